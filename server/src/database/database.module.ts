import { Global, Inject, Module, type OnApplicationShutdown } from '@nestjs/common'
import { Sequelize } from 'sequelize'
import { CONFIG } from '../config/config.module.js'
import type { Config } from '../config/config.js'
import { connect } from './connect.js'
import { checkInstance } from '../instance/instance.js'
import { migrate } from './migrate.js'

@Global()
@Module({
  providers: [
    {
      provide: Sequelize,
      inject: [CONFIG],
      useFactory: async (config: Config) => {
        const sequelize = await connect(config.databaseUrl)
        await migrate(sequelize)
        await checkInstance(sequelize, config)
        return sequelize
      },
    },
  ],
  exports: [Sequelize],
})
export class DatabaseModule implements OnApplicationShutdown {
  constructor(@Inject(Sequelize) private readonly sequelize: Sequelize) {}

  async onApplicationShutdown(): Promise<void> {
    await this.sequelize.close()
  }
}
