/** What an entry is taken for until somebody says better: code that somebody put in. */
export const PATTERN_KIND = 'snippet'
