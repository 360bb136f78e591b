/** Elements that stand in the head, or before it. */
export const OF_HEAD = new Set(
  'html head base basefont bgsound link meta title script style noframes noscript template'.split(' '),
)

/**
 * Follows a page from its first tag to where its body begins, by the insertion modes of the HTML standard (sections 13.2.6.4.2
 * to 13.2.6.4.6): from there on it knows nothing more.
 */
export class PageStart {
  /** The body has begun. */
  isOver = false
  /** The head has begun: from then on only what ends it matters. */
  isHeadBegun = false

  /** @returns Whether the head begins with this tag: behind it for `<head>`, and before it for any other. */
  tag(name: string, isEnd: boolean, isInTemplate: boolean): boolean {
    if (this.isOver) return false
    const begins = !this.isHeadBegun && name !== 'html' && !(isEnd && !BEGIN_BODY.has(name))
    this.isHeadBegun ||= begins
    if (isEnd ? BEGIN_BODY.has(name) : !isInTemplate && !OF_HEAD.has(name)) this.isOver = true
    return begins
  }

  /** Of words between tags. */
  words(isInTemplate: boolean): boolean {
    if (this.isOver || isInTemplate) return false
    const begins = !this.isHeadBegun
    this.isHeadBegun = this.isOver = true
    return begins
  }
}

const BEGIN_BODY = new Set(['body', 'html', 'br'])
