import type { Sequelize } from 'sequelize'
import { NEWS_CHANNEL, type News } from './site-events.js'

/** Tells every server that something about a sweep has changed. */
export const tellSweep = (sequelize: Sequelize, news: { siteId: number; sweepId: number }) => tell(sequelize, news)

/** Tells every server that a change of rules is further on. */
export const tellDeployment = (sequelize: Sequelize, news: { siteId: number; deploymentId: number }) =>
  tell(sequelize, news)

/** Tells every server that a rehearsal is further on. */
export const tellRehearsal = (sequelize: Sequelize, news: { siteId: number; rehearsalId: number }) =>
  tell(sequelize, news)

/** Tells every server that a retirement is further on. */
export const tellRetirement = (sequelize: Sequelize, news: { siteId: number; retirementId: number }) =>
  tell(sequelize, news)

async function tell(sequelize: Sequelize, news: News): Promise<void> {
  await sequelize.query('select pg_notify(:channel, :payload)', {
    replacements: { channel: NEWS_CHANNEL, payload: JSON.stringify(news) },
  })
}
