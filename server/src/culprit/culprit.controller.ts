import { Body, Controller, HttpCode, Param, Post } from '@nestjs/common'
import { CulpritRequest, RehearsalSheet } from '@unvelt/contract'
import { Answers } from '../openapi/answers.js'
import { IdPipe } from '../problem/id.pipe.js'
import { CulpritService } from './culprit.service.js'

/** Which drafts break what a guard has found. */
@Controller()
export class CulpritController {
  constructor(private readonly culprits: CulpritService) {}

  @Post('rehearsals/:rehearsal/searches')
  @HttpCode(200)
  @Answers(RehearsalSheet)
  find(@Param('rehearsal', IdPipe) id: number, @Body() wish: CulpritRequest): Promise<RehearsalSheet> {
    return this.culprits.find(id, wish)
  }

  @Post('rehearsals/:rehearsal/sort-out')
  @HttpCode(200)
  @Answers(RehearsalSheet)
  sortOut(@Param('rehearsal', IdPipe) id: number): Promise<RehearsalSheet> {
    return this.culprits.sortOut(id)
  }

  @Post('searches/:search/stop')
  @HttpCode(200)
  @Answers(RehearsalSheet)
  stop(@Param('search', IdPipe) id: number): Promise<RehearsalSheet> {
    return this.culprits.stop(id)
  }

  @Post('searches/:search/set-aside')
  @HttpCode(200)
  @Answers(RehearsalSheet)
  setAside(@Param('search', IdPipe) id: number): Promise<RehearsalSheet> {
    return this.culprits.setAside(id)
  }
}
