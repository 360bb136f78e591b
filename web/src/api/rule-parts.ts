import { useQuery } from '@tanstack/react-query'
import type { LocalCopies, RulePartsFound } from '@unvelt/contract'
import { call } from './client.js'
import { keys } from './queries.js'

/** What the newest sweep knows that a rule about an add-on can say; asked for none without one. */
export const useRuleParts = (site: number, addon: string | null) =>
  useQuery({
    queryKey: [...keys.site(site), 'rule-parts', addon],
    queryFn: () => call<RulePartsFound>('GET', `/sites/${site}/add-ons/${encodeURIComponent(addon!)}/rule-parts`),
    enabled: addon !== null,
  })

/** Copies of outside files on the own host, as the site tells of them. */
export const useLocalCopies = (site: number, wanted: boolean) =>
  useQuery({
    queryKey: [...keys.site(site), 'copies'],
    queryFn: () => call<LocalCopies>('GET', `/sites/${site}/copies`),
    enabled: wanted,
  })
