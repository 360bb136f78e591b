import { Module } from '@nestjs/common'
import { ProofModule } from '../proof/proof.module.js'
import { SweepModule } from '../sweep/sweep.module.js'
import { ShareController } from './share.controller.js'
import { ShareService } from './share.service.js'

@Module({ imports: [ProofModule, SweepModule], controllers: [ShareController], providers: [ShareService] })
export class ShareModule {}
