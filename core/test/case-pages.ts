import { CasePages, sitePages, USE_WORDS, type UseWord } from '../src/index.js'

/** A page as tests of moves and candidates write it. */
export interface PageCase {
  path: string
  area: 'public' | 'office'
  views: number | null
  word: UseWord
  transferBytes: number
  serverMs: number
  mainThreadMs: number
  requests: number
}

export function casePages(pages: readonly PageCase[], views: { total: number; pages: number }): CasePages {
  const at = pages.map((_, n) => n)
  const column = (measure: 'requests' | 'transferBytes' | 'serverMs' | 'mainThreadMs') =>
    pages.map((page) => page[measure])
  const values = {
    requests: column('requests'),
    transferBytes: column('transferBytes'),
    serverMs: column('serverMs'),
    mainThreadMs: column('mainThreadMs'),
  }
  const words = pages.map(({ word }) => USE_WORDS.indexOf(word))
  const site = sitePages(
    pages.map((page, id) => ({ id, ...page })),
    views,
    at,
  )
  return new CasePages(site, { page: at, values }, words)
}
