import { Module } from '@nestjs/common'
import { SweepModule } from '../sweep/sweep.module.js'
import { ProofController } from './proof.controller.js'
import { ProofService } from './proof.service.js'

@Module({ imports: [SweepModule], controllers: [ProofController], providers: [ProofService], exports: [ProofService] })
export class ProofModule {}
