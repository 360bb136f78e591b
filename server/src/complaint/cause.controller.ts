import { Body, Controller, Get, HttpCode, Param, Post } from '@nestjs/common'
import { CauseSearch, GuardCauseRequest, RoundCauses } from '@unvelt/contract'
import { Answers } from '../openapi/answers.js'
import { IdPipe } from '../problem/id.pipe.js'
import { CauseService } from './cause.service.js'

/** What causes what guards found on the live site. */
@Controller()
export class CauseController {
  constructor(private readonly causes: CauseService) {}

  @Get('rehearsals/:rehearsal/causes')
  @Answers(RoundCauses)
  list(@Param('rehearsal', IdPipe) id: number): Promise<RoundCauses> {
    return this.causes.ofRound(id)
  }

  @Post('rehearsals/:rehearsal/causes')
  @HttpCode(201)
  @Answers(CauseSearch, { status: 201 })
  find(@Param('rehearsal', IdPipe) id: number, @Body() wish: GuardCauseRequest): Promise<CauseSearch> {
    return this.causes.findOfGuard(id, wish)
  }

  @Post('cause-searches/:search/stop')
  @HttpCode(200)
  @Answers(CauseSearch)
  stop(@Param('search', IdPipe) id: number): Promise<CauseSearch> {
    return this.causes.stop(id)
  }
}
