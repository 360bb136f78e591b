import { Body, Controller, Get, HttpCode, Param, Post } from '@nestjs/common'
import { DEFAULT_SERVER_READINGS, ServerReadingRequest, ServerReadings } from '@unvelt/contract'
import { Answers } from '../openapi/answers.js'
import { ServerReadingService } from './server-reading.service.js'
import { IdPipe } from '../problem/id.pipe.js'

@Controller('sites/:site/pages/:page/server-readings')
export class ServerReadingController {
  constructor(private readonly readings: ServerReadingService) {}

  @Post()
  @HttpCode(202)
  @Answers(ServerReadings, { status: 202 })
  start(
    @Param('site', IdPipe) site: number,
    @Param('page', IdPipe) page: number,
    @Body() { times = DEFAULT_SERVER_READINGS }: ServerReadingRequest,
  ): Promise<ServerReadings> {
    return this.readings.start(site, page, times)
  }

  @Get()
  @Answers(ServerReadings)
  newest(@Param('site', IdPipe) site: number, @Param('page', IdPipe) page: number): Promise<ServerReadings> {
    return this.readings.newest(site, page)
  }
}
