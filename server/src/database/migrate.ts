import { SequelizeStorage, Umzug, type MigrationParams } from 'umzug'
import type { Sequelize } from 'sequelize'
import * as durableJobs from './migrations/0019-durable-jobs.js'
import * as predictionGroups from './migrations/0020-prediction-groups.js'
import * as rehearsals from './migrations/0021-rehearsals.js'
import * as stepTrials from './migrations/0022-step-trials.js'
import * as culprits from './migrations/0023-culprits.js'
import * as retirements from './migrations/0024-retirements.js'
import * as retiredFeatures from './migrations/0026-retired-features.js'
import * as predictedProofs from './migrations/0033-predicted-proofs.js'
import * as pageAnswers from './migrations/0034-page-answers.js'
import * as papers from './migrations/0035-papers.js'
import * as pictureLooks from './migrations/0036-picture-looks.js'
import * as firstFigures from './migrations/0037-first-figures.js'
import * as copies from './migrations/0038-copies.js'
import * as causes from './migrations/0039-causes.js'
import * as siteAccess from './migrations/0040-site-access.js'
import * as fileLooks from './migrations/0041-file-looks.js'
import * as liveRounds from './migrations/0042-live-rounds.js'
import * as pageSets from './migrations/0043-page-sets.js'
import * as stepIdeas from './migrations/0044-step-ideas.js'
import * as laterPictures from './migrations/0045-later-pictures.js'
import * as putOff from './migrations/0046-put-off.js'
import * as parts from './migrations/0047-parts.js'
import * as sweepBasis from './migrations/0048-sweep-basis.js'
import * as shares from './migrations/0049-shares.js'
import * as films from './migrations/0050-films.js'
import * as retention from './migrations/0051-retention.js'
import * as bestEffects from './migrations/0052-best-effects.js'
import * as verify from './migrations/0053-verify.js'
import * as promises from './migrations/0054-promises.js'
import * as causesOfGuards from './migrations/0055-causes-of-guards.js'
import * as smallerPages from './migrations/0056-smaller-pages.js'
import * as consent from './migrations/0057-consent.js'
import * as howSure from './migrations/0058-how-sure.js'
import * as ways from './migrations/0059-ways.js'
import * as nowhere from './migrations/0060-nowhere.js'
import * as changes from './migrations/0061-changes.js'
import * as pageFiles from './migrations/0062-page-files.js'
import * as packedRepeats from './migrations/0063-packed-repeats.js'
import * as pictureBytes from './migrations/0064-picture-bytes.js'
import * as madeCopies from './migrations/0065-made-copies.js'
import * as inHtml from './migrations/0066-in-html.js'
import * as latePaint from './migrations/0067-late-paint.js'
import * as promisedLooks from './migrations/0068-promised-looks.js'
import * as picturesOfSites from './migrations/0069-pictures-of-sites.js'
import * as spanTiming from './migrations/0070-span-timing.js'
import * as pictureContent from './migrations/0071-picture-content.js'
import * as factsOfNoSweep from './migrations/0072-facts-of-no-sweep.js'
import * as groupsByFiles from './migrations/0073-groups-by-files.js'
import * as gentleSearches from './migrations/0032-gentle-searches.js'
import * as nets from './migrations/0031-nets.js'
import * as searched from './migrations/0030-searched.js'
import * as tidyings from './migrations/0029-tidyings.js'
import * as siteRestores from './migrations/0028-site-restores.js'
import * as weighIns from './migrations/0027-weigh-ins.js'
import * as expiredRules from './migrations/0025-expired-rules.js'
import * as removedLenses from './migrations/0018-removed-lenses.js'
import * as steps from './migrations/0017-steps.js'
import * as actionsAndTasks from './migrations/0016-actions-and-tasks.js'
import * as first from './migrations/0001-first-tables.js'
import * as idleAndMainThread from './migrations/0003-idle-and-main-thread.js'
import * as traces from './migrations/0004-traces.js'
import * as laterWork from './migrations/0006-later-work.js'
import * as patterns from './migrations/0007-patterns.js'
import * as imports from './migrations/0008-imports.js'
import * as serverReadings from './migrations/0009-server-readings.js'
import * as samples from './migrations/0010-samples-and-views.js'
import * as without from './migrations/0011-without.js'
import * as leastDifference from './migrations/0012-least-difference.js'
import * as inventory from './migrations/0013-inventory.js'
import * as withoutConnector from './migrations/0014-without-connector.js'
import * as inlineCode from './migrations/0015-inline-code.js'
import * as reach from './migrations/0005-reach.js'
import * as whatTheSiteTells from './migrations/0002-what-the-site-tells.js'

const MIGRATIONS = {
  '0001-first-tables': first,
  '0002-what-the-site-tells': whatTheSiteTells,
  '0003-idle-and-main-thread': idleAndMainThread,
  '0004-traces': traces,
  '0005-reach': reach,
  '0006-later-work': laterWork,
  '0007-patterns': patterns,
  '0008-imports': imports,
  '0009-server-readings': serverReadings,
  '0010-samples-and-views': samples,
  '0011-without': without,
  '0012-least-difference': leastDifference,
  '0013-inventory': inventory,
  '0014-without-connector': withoutConnector,
  '0015-inline-code': inlineCode,
  '0016-actions-and-tasks': actionsAndTasks,
  '0017-steps': steps,
  '0018-removed-lenses': removedLenses,
  '0019-durable-jobs': durableJobs,
  '0020-prediction-groups': predictionGroups,
  '0021-rehearsals': rehearsals,
  '0022-step-trials': stepTrials,
  '0023-culprits': culprits,
  '0024-retirements': retirements,
  '0025-expired-rules': expiredRules,
  '0026-retired-features': retiredFeatures,
  '0027-weigh-ins': weighIns,
  '0028-site-restores': siteRestores,
  '0029-tidyings': tidyings,
  '0030-searched': searched,
  '0031-nets': nets,
  '0032-gentle-searches': gentleSearches,
  '0033-predicted-proofs': predictedProofs,
  '0034-page-answers': pageAnswers,
  '0035-papers': papers,
  '0036-picture-looks': pictureLooks,
  '0037-first-figures': firstFigures,
  '0038-copies': copies,
  '0039-causes': causes,
  '0040-site-access': siteAccess,
  '0041-file-looks': fileLooks,
  '0042-live-rounds': liveRounds,
  '0043-page-sets': pageSets,
  '0044-step-ideas': stepIdeas,
  '0045-later-pictures': laterPictures,
  '0046-put-off': putOff,
  '0047-parts': parts,
  '0048-sweep-basis': sweepBasis,
  '0049-shares': shares,
  '0050-films': films,
  '0051-retention': retention,
  '0052-best-effects': bestEffects,
  '0053-verify': verify,
  '0054-promises': promises,
  '0055-causes-of-guards': causesOfGuards,
  '0056-smaller-pages': smallerPages,
  '0057-consent': consent,
  '0058-how-sure': howSure,
  '0059-ways': ways,
  '0060-nowhere': nowhere,
  '0061-changes': changes,
  '0062-page-files': pageFiles,
  '0063-packed-repeats': packedRepeats,
  '0064-picture-bytes': pictureBytes,
  '0065-made-copies': madeCopies,
  '0066-in-html': inHtml,
  '0067-late-paint': latePaint,
  '0068-promised-looks': promisedLooks,
  '0069-pictures-of-sites': picturesOfSites,
  '0070-span-timing': spanTiming,
  '0071-picture-content': pictureContent,
  '0072-facts-of-no-sweep': factsOfNoSweep,
  '0073-groups-by-files': groupsByFiles,
}
/** All that this version knows of, oldest first. */
export const migrationNames = Object.keys(MIGRATIONS)

/** Any number; two servers that start at once must agree on it, so that only one migrates. */
const MIGRATION_LOCK = 4600

/** Brings the tables up to date. Safe to run from several processes at once. */
export async function migrate(sequelize: Sequelize): Promise<void> {
  const umzug = new Umzug({
    context: sequelize,
    storage: new SequelizeStorage({ sequelize, tableName: 'migration' }),
    logger: undefined,
    migrations: Object.entries(MIGRATIONS).map(([name, { up, down }]) => ({
      name,
      up: ({ context }: MigrationParams<Sequelize>) => up(context),
      down: ({ context }: MigrationParams<Sequelize>) => down(context),
    })),
  })
  await sequelize.transaction(async (transaction) => {
    await sequelize.query(`select pg_advisory_xact_lock(${MIGRATION_LOCK})`, { transaction })
    await umzug.up()
  })
}
