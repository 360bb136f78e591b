import type { Sequelize } from 'sequelize'
import { NEWS_CHANNEL, type SweepNews } from './site-events.js'

/** Tells every server that something about a sweep has changed. */
export async function tellSweep(sequelize: Sequelize, news: SweepNews): Promise<void> {
  await sequelize.query('select pg_notify(:channel, :payload)', {
    replacements: { channel: NEWS_CHANNEL, payload: JSON.stringify(news) },
  })
}
