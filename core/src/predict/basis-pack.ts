import { MEASURES, type Toll } from '../toll/toll.js'
import type { Asking } from './asking.js'
import type { BasisRequest, PredictionBasis } from './basis.js'

/** A basis in columns, with every payer named once: a fifth of its JSON. Of no meaning but to `unpackBasis` of the same version. */
export type PackedBasis = readonly unknown[]

/** An index of a payer, and a figure for each of `MEASURES`. */
type PackedToll = number[]

type Columns = [
  names: string[],
  payers: number[],
  pageUrl: string | null,
  isRewritable: boolean,
  ids: string[],
  urls: string[],
  types: string[],
  payersOfRequests: number[],
  flags: number[],
  by: string[],
  needs: number[][],
  needsInline: number[][],
  redirectedFrom: number[],
  addressOf: number[],
  requests: PackedToll[][],
  inline: (PackedToll | null)[],
  times: [toll: PackedToll, address: number, inline: number][],
  server: PackedToll[],
  isLongCode: boolean[],
]

const BY_ADDRESS = 1
const MAPPED = 2
const WENT_OUT = 4

export function packBasis(basis: PredictionBasis): PackedBasis {
  const numbers = new Map<string, number>()
  const numberOf = (name: string) => {
    const number = numbers.get(name) ?? numbers.size
    numbers.set(name, number)
    return number
  }
  const toll = (each: Toll): PackedToll => [numberOf(each.payer), ...MEASURES.map((measure) => each[measure])]
  const { requests, asked, charges } = basis
  const column = <T>(pick: (request: BasisRequest) => T) => requests.map(pick)
  const askings = <T>(pick: (asking: Asking) => T) => asked.requests.map(pick)
  const columns: Columns = [
    [],
    basis.payers.map(numberOf),
    basis.pageUrl ?? null,
    basis.isRewritable,
    column(({ id }) => id),
    column(({ url }) => url),
    column(({ type }) => type),
    column(({ payer }) => numberOf(payer)),
    column(
      ({ isByAddress, isMapped, wentOut }) =>
        (isByAddress ? BY_ADDRESS : 0) + (isMapped ? MAPPED : 0) + (wentOut ? WENT_OUT : 0),
    ),
    askings(({ by }) => by),
    askings(({ needs }) => needs),
    askings(({ needsInline }) => needsInline),
    askings(({ redirectedFrom }) => redirectedFrom),
    asked.addressOf,
    charges.requests.map((tolls) => tolls.map(toll)),
    charges.inline.map((each) => each && toll(each)),
    charges.times.map((time) => [toll(time.toll), time.address, time.inline]),
    charges.server.map(toll),
    basis.isLongCode,
  ]
  columns[0].push(...numbers.keys())
  return columns
}

export function unpackBasis(packed: PackedBasis): PredictionBasis {
  const [
    names, payers, pageUrl, isRewritable, ids, urls, types, payersOf, flags, by, needs, needsInline, redirectedFrom, addressOf,
    requests, inline, times, server, isLongCode,
  ] = packed as Columns // prettier-ignore
  const toll = ([payer, ...figures]: PackedToll): Toll => {
    const [
      transfers, transferBytes, decodedBytes, idleBytes, mainThreadMs, serverMs, queries, queryMs,
    ] = figures as [number, number, number, number, number, number, number, number] // prettier-ignore
    return {
      payer: names[payer!]!, requests: transfers, transferBytes, decodedBytes, idleBytes, mainThreadMs, serverMs, queries, queryMs,
    } // prettier-ignore
  }
  const askers: number[][] = []
  addressOf.forEach((address, index) => (askers[address] ??= []).push(index))
  return {
    payers: payers.map((number) => names[number]!),
    ...(pageUrl !== null && { pageUrl }),
    isRewritable,
    requests: ids.map((id, n) => ({
      id,
      url: urls[n]!,
      type: types[n] as BasisRequest['type'],
      payer: names[payersOf[n]!]!,
      isByAddress: (flags[n]! & BY_ADDRESS) > 0,
      isMapped: (flags[n]! & MAPPED) > 0,
      wentOut: (flags[n]! & WENT_OUT) > 0,
    })),
    asked: {
      requests: ids.map((_, n) => ({
        by: by[n] as Asking['by'],
        needs: needs[n]!,
        needsInline: needsInline[n]!,
        redirectedFrom: redirectedFrom[n]!,
      })),
      askers,
      addressOf,
    },
    charges: {
      requests: requests.map((tolls) => tolls.map(toll)),
      inline: inline.map((each) => each && toll(each)),
      times: times.map(([each, address, at]) => ({ toll: toll(each), address, inline: at })),
      server: server.map(toll),
    },
    isLongCode,
  }
}
