import { Body, Controller, Get, HttpCode, Param, ParseIntPipe, Post } from '@nestjs/common'
import { DEFAULT_SERVER_READINGS, ServerReadingRequest, ServerReadings } from '@unvelt/contract'
import { Answers } from '../openapi/answers.js'
import { ServerReadingService } from './server-reading.service.js'

@Controller('sites/:site/pages/:page/server-readings')
export class ServerReadingController {
  constructor(private readonly readings: ServerReadingService) {}

  @Post()
  @HttpCode(202)
  @Answers(ServerReadings, { status: 202 })
  start(
    @Param('site', ParseIntPipe) site: number,
    @Param('page', ParseIntPipe) page: number,
    @Body() { times = DEFAULT_SERVER_READINGS }: ServerReadingRequest,
  ): Promise<ServerReadings> {
    return this.readings.start(site, page, times)
  }

  @Get()
  @Answers(ServerReadings)
  newest(
    @Param('site', ParseIntPipe) site: number,
    @Param('page', ParseIntPipe) page: number,
  ): Promise<ServerReadings> {
    return this.readings.newest(site, page)
  }
}
