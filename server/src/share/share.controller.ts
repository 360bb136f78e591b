import { Body, Controller, Get, HttpCode, Param, Post } from '@nestjs/common'
import { ProofShares, ShareOffer, ShareRequest } from '@unvelt/contract'
import { Answers } from '../openapi/answers.js'
import { IdPipe } from '../problem/id.pipe.js'
import { ProofService } from '../proof/proof.service.js'
import { ShareService } from './share.service.js'

@Controller('proofs/:proof/shares')
export class ShareController {
  constructor(
    private readonly proofs: ProofService,
    private readonly shares: ShareService,
  ) {}

  @Get()
  @Answers(ShareOffer)
  async offer(@Param('proof', IdPipe) id: number): Promise<ShareOffer> {
    return this.shares.offer(await this.proofs.get(id))
  }

  /** Begins to read a page under the sets of the proof's changes. */
  @Post()
  @HttpCode(201)
  @Answers(ProofShares)
  async find(@Param('proof', IdPipe) id: number, @Body() request: ShareRequest): Promise<ProofShares> {
    return this.shares.find(await this.proofs.get(id), request)
  }
}
