import { Body, Controller, Get, HttpCode, Param, Post } from '@nestjs/common'
import { ActionRequest, ActionsView, DEFAULT_TRIES } from '@unvelt/contract'
import { Answers } from '../openapi/answers.js'
import { ActionService } from './action.service.js'
import { IdPipe } from '../problem/id.pipe.js'

@Controller('sites/:site/actions')
export class ActionController {
  constructor(private readonly actions: ActionService) {}

  @Post()
  @HttpCode(202)
  @Answers(ActionsView, { status: 202 })
  start(@Param('site', IdPipe) site: number, @Body() { times = DEFAULT_TRIES }: ActionRequest): Promise<ActionsView> {
    return this.actions.start(site, times)
  }

  @Get()
  @Answers(ActionsView)
  newest(@Param('site', IdPipe) site: number): Promise<ActionsView> {
    return this.actions.newest(site)
  }
}
