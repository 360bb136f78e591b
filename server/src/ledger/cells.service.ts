import { Inject, Injectable } from '@nestjs/common'
import { Sequelize } from 'sequelize'
import type { SweepRow } from '../sweep/sweep.model.js'
import { keepPack, keptPack, packMadeAt, packSweep, type KeptPack } from '../toll/pack-store.js'

const MOST_IN_MEMORY = 4

/** The cells of sweeps as bytes: from memory, from the database, or put together where they may still change. */
@Injectable()
export class CellsService {
  private readonly inMemory = new Map<number, KeptPack>()

  constructor(@Inject(Sequelize) private readonly sequelize: Sequelize) {}

  async of(sweep: SweepRow): Promise<Uint8Array> {
    if (sweep.status === 'running' || sweep.status === 'paused' || sweep.recomputing)
      return packSweep(this.sequelize, sweep.id)
    const madeAt = await packMadeAt(this.sequelize, sweep.id)
    const known = this.inMemory.get(sweep.id)
    if (known && known.madeAt === madeAt) return known.packed
    const kept = (await keptPack(this.sequelize, sweep.id)) ?? (await keepPack(this.sequelize, sweep.id))
    this.remember(sweep.id, kept)
    return kept.packed
  }

  private remember(sweepId: number, kept: KeptPack): void {
    this.inMemory.delete(sweepId)
    this.inMemory.set(sweepId, kept)
    for (const oldest of [...this.inMemory.keys()].slice(0, -MOST_IN_MEMORY)) this.inMemory.delete(oldest)
  }
}
