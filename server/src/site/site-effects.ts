import type { SiteRow } from './site.model.js'

/**
 * What core's rewriter can do to a page of any site, which is what drafts can say where no connector answers: they are rehearsed,
 * and not put live. It runs nothing on the server, and has no copies of outside files.
 */
export const REWRITER_EFFECTS = ['leave-out', 'hold', 'order', 'system-font', 'keep'] as const

export const effectsOf = ({ connector }: Pick<SiteRow, 'connector'>): readonly string[] =>
  connector?.effects ?? REWRITER_EFFECTS
