// Without classes, so that who needs only the words does not bring what checks forms.
export const VERDICTS = ['undecided', 'ask', 'keep', 'confine', 'hold', 'replace', 'retire'] as const
export type VerdictWord = (typeof VERDICTS)[number]

export const KINDS = ['plugin', 'widget', 'font', 'outside script', 'theme', 'built-in', 'snippet'] as const
