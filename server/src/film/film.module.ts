import { Module } from '@nestjs/common'
import { OnDemandModule } from '../on-demand/on-demand.module.js'
import { ProofModule } from '../proof/proof.module.js'
import { SweepModule } from '../sweep/sweep.module.js'
import { FilmController } from './film.controller.js'
import { FilmService } from './film.service.js'

@Module({
  imports: [OnDemandModule, ProofModule, SweepModule],
  controllers: [FilmController],
  providers: [FilmService],
})
export class FilmModule {}
