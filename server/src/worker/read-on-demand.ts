import { asKind, OnDemandRow } from '../on-demand/on-demand.model.js'
import type { Hold } from '../queue/job.js'
import { ownTrouble } from '../queue/own-trouble.js'
import type { ReadOnDemandJob } from '../queue/queue.js'
import { failureSentence, ReadingFailure } from '../reading/failure.js'
import { ConnectorError } from '../site-http/connector-client.js'
import { whyUnreachable } from '../site-http/site-fetch.js'
import { open } from '../site-http/secret-box.js'
import { SiteRow } from '../site/site.model.js'
import { readActions } from './read-actions.js'
import { readConsent } from './read-consent.js'
import { readFilm } from './read-film.js'
import { readFiles } from './read-files.js'
import { readNowhere } from './read-nowhere.js'
import { readPictures } from './read-pictures.js'
import { readStepIdeas } from './read-step-ideas.js'
import { readSmaller } from './read-smaller.js'
import { readSteps } from './read-steps.js'
import { readVerified } from './read-verified.js'
import { readServer } from './read-server.js'
import { readWithout } from './read-without.js'
import type { WorkerTools } from './worker-tools.js'

/** What all readings on demand are given. */
export interface OnDemandTools extends WorkerTools {
  site: SiteRow
  /** Of the site's connector. */
  key: string | null
  /** Stores what has been taken so far; what follows goes on from there. */
  keep(taken: object): Promise<void>
}

/** Reads what somebody asked for, from where it was broken off. However it ends, whoever asked is told. */
export async function runReadOnDemand(tools: WorkerTools, { id }: ReadOnDemandJob, hold: Hold): Promise<void> {
  const row = await OnDemandRow.findByPk(id)
  if (!row || row.state === 'done') return
  const site = (await SiteRow.findByPk(row.siteId))!
  const given: OnDemandTools = {
    ...tools,
    site,
    key: site.connectorKey === null ? null : open(site.connectorKey, tools.secret),
    keep: async (taken) => {
      hold.check()
      await OnDemandRow.update({ taken }, { where: { id } })
      await hold.progressed()
    },
  }
  let failure: string | null = null
  try {
    const [server, without, actions] = [asKind(row, 'server'), asKind(row, 'without'), asKind(row, 'actions')]
    const [steps, ideas, pictures] = [asKind(row, 'steps'), asKind(row, 'ideas'), asKind(row, 'pictures')]
    if (server) await readServer(given, server)
    if (without) await readWithout(given, without)
    if (actions) await readActions(given, actions)
    if (steps) await readSteps(given, steps)
    if (ideas) await readStepIdeas(given, ideas)
    if (pictures) await readPictures(given, pictures)
    const files = asKind(row, 'files')
    if (files) await readFiles(given, files)
    const film = asKind(row, 'film')
    if (film) await readFilm(given, film)
    const verify = asKind(row, 'verify')
    if (verify) await readVerified(given, verify)
    const consent = asKind(row, 'consent')
    if (consent) await readConsent(given, consent)
    const nowhere = asKind(row, 'nowhere')
    if (nowhere) await readNowhere(given, nowhere)
    const smaller = asKind(row, 'smaller')
    if (smaller) await readSmaller(given, smaller)
  } catch (error) {
    if (tools.stopping() || ownTrouble(error)) throw error
    failure = sentenceOf(error, new URL(site.address).host, row.kind)
  }
  hold.check()
  await endOnDemand(id, failure)
}

/** @param failure Null where all was read. */
export async function endOnDemand(id: number, failure: string | null): Promise<void> {
  await OnDemandRow.update({ state: 'done', failure, takenAt: new Date() }, { where: { id, state: 'waiting' } })
}

function sentenceOf(error: unknown, host: string, kind: OnDemandRow['kind']): string {
  if (error instanceof ConnectorError || error instanceof ReadingFailure) return error.message
  return ['without', 'steps', 'ideas', 'pictures', 'film', 'verify', 'smaller', 'consent'].includes(kind)
    ? failureSentence(error)
    : whyUnreachable(error, host)
}
