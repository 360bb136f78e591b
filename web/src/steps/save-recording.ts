import { writeRecording, type Page, type Site, type SiteStep } from '@unvelt/contract'
import { download } from '../parts/download.js'

/** A step as a file that browsers' developer tools take in, on a page where it is to be done. */
export function saveRecording(site: Site, pages: readonly Page[], step: SiteStep): void {
  const page = pages.find(({ kind, area }) => (step.kind ? kind === step.kind : area === 'public'))
  const url = new URL(page?.path ?? '/', site.address).href
  const recording = writeRecording(step as Parameters<typeof writeRecording>[0], url)
  download(`${fileName(step.name)}.json`, new Blob([JSON.stringify(recording, null, 2)], { type: 'application/json' }))
}

const fileName = (name: string) => name.replace(/[^\p{L}\p{N}]+/gu, '-').replace(/^-|-$/g, '') || 'step'
