import { Controller, Get, Inject } from '@nestjs/common'
import { Sequelize } from 'sequelize'
import { ProblemError } from '../problem/problem.error.js'

@Controller('health')
export class HealthController {
  constructor(@Inject(Sequelize) private readonly sequelize: Sequelize) {}

  @Get()
  async get(): Promise<{ status: 'ok' }> {
    await this.sequelize.query('select 1').catch(() => {
      throw new ProblemError(503, 'The database does not answer.')
    })
    return { status: 'ok' }
  }
}
