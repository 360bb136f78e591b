import { Body, Controller, Get, HttpCode, Param, Post } from '@nestjs/common'
import { MoreReadings, PROOF_REPEATS, Proof, ProofSummary } from '@unvelt/contract'
import { Answers } from '../openapi/answers.js'
import { ProofService } from './proof.service.js'
import { KeptReady } from '../ready/kept-ready.js'
import { IdPipe } from '../problem/id.pipe.js'

@Controller()
export class ProofController {
  constructor(private readonly proofs: ProofService) {}

  @Get('sites/:site/proofs')
  @KeptReady()
  @Answers(ProofSummary, { list: true })
  async list(@Param('site', IdPipe) siteId: number): Promise<ProofSummary[]> {
    return Promise.all((await this.proofs.list(siteId)).map((row) => this.proofs.summary(row)))
  }

  @Get('proofs/:proof')
  @Answers(Proof)
  async get(@Param('proof', IdPipe) id: number): Promise<Proof> {
    return this.proofs.view(await this.proofs.get(id))
  }

  @Post('proofs/:proof/more')
  @HttpCode(200)
  @Answers(Proof)
  async more(@Param('proof', IdPipe) id: number, @Body() { times = PROOF_REPEATS }: MoreReadings): Promise<Proof> {
    const row = await this.proofs.get(id)
    await this.proofs.readMore(row, times)
    return this.proofs.view(row)
  }
}
