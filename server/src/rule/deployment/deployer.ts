import { Inject, Injectable, type BeforeApplicationShutdown, type OnApplicationBootstrap } from '@nestjs/common'
import type PgBoss from 'pg-boss'
import { Sequelize } from 'sequelize'
import { CONFIG } from '../../config/config.module.js'
import type { Config } from '../../config/config.js'
import { Locks } from '../../queue/locks.js'
import { DEPLOY, PUT_OFF } from '../../queue/queue.js'
import { QUEUE } from '../../queue/queue.module.js'
import { JobRunner } from '../../queue/run-jobs.js'
import { deployJob } from './deploy-job.js'
import { putOffJob } from './put-off-job.js'
import { PutOffService } from './put-off.service.js'

/** Changes of rules need no browser, so the server carries them, too: they get to their end while no worker is there. */
@Injectable()
export class Deployer implements OnApplicationBootstrap, BeforeApplicationShutdown {
  private locks: Locks | null = null
  private runner: JobRunner | null = null
  private stopping = false

  constructor(
    @Inject(Sequelize) private readonly sequelize: Sequelize,
    @Inject(QUEUE) private readonly queue: PgBoss,
    @Inject(CONFIG) private readonly config: Config,
    private readonly putOffs: PutOffService,
  ) {}

  async onApplicationBootstrap(): Promise<void> {
    const { sequelize, queue } = this
    this.locks = await Locks.open(this.config.databaseUrl)
    this.runner = new JobRunner({ sequelize, queue, locks: this.locks, stopping: () => this.stopping })
    await this.runner.take(deployJob({ sequelize, queue, secret: this.config.secret }))
    await this.runner.take(putOffJob(this.putOffs))
    this.runner.start()
  }

  beforeApplicationShutdown(): Promise<void> {
    return this.stop()
  }

  /** Leaves what is under way to others. */
  async stop(): Promise<void> {
    this.stopping = true
    this.runner?.stop()
    await this.queue.offWork(DEPLOY)
    await this.queue.offWork(PUT_OFF)
    await this.locks?.close()
  }
}
