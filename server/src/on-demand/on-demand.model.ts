import {
  DataTypes,
  Model,
  type CreationOptional,
  type InferAttributes,
  type InferCreationAttributes,
  type Sequelize,
} from 'sequelize'
import type {
  ConsentBanner,
  FilmLane,
  NowhereRule,
  Rule,
  ServerReading,
  Step,
  StepRecord,
  TriedDocument,
} from '@unvelt/core'
import type {
  ConsentSide,
  FilmedLoad,
  LookedAtFile,
  LookedAtFrame,
  LookedAtPicture,
  LookedThroughLens,
  NowhereCount,
  VerifiedEffect,
} from '@unvelt/contract'

/** The figures of one reading that are compared; null where the browser reported none. */
export interface WithoutFigures {
  requests: number
  transferBytes: number
  decodedBytes: number
  mainThreadMs: number
  loadMs: number | null
  largestPaintMs: number | null
  blockingMs: number | null
  complaints: string[]
}

/** An action of the site with every try of it. */
export interface TriedAction {
  name: string
  method: 'GET' | 'POST'
  path: string
  as: string
  readings: ServerReading[]
  traceIds: string[]
}

/** How one step went. */
export type TakenStep = Pick<StepRecord, 'name' | 'outcome' | 'why'>

/** What is asked for, and what has been taken of it so far, by kind. */
export interface OnDemandKinds {
  /** A page asked for many times without a browser. */
  server: { wish: { times: number }; taken: ServerReading[] }
  /** A page read with and without some outsiders, in turn. */
  without: {
    wish: { payers: string[]; hosts: string[]; repeats: number }
    taken: { with: WithoutFigures[]; without: WithoutFigures[] }
  }
  /** The actions of a site, each tried several times. */
  actions: { wish: { times: number }; taken: TriedAction[] }
  /** Steps that are played on a page of the live site, time by time. */
  steps: { wish: { path: string; device: 'desk' | 'handset'; times: number; steps: Step[] }; taken: TakenStep[][] }
  /** Steps that pages of each kind suggest, tried on the live site. */
  ideas: { wish: { pages: IdeaPage[] }; taken: IdeasTaken }
  /** The pictures of a page, and what they could weigh. */
  pictures: { wish: { similarity: number }; taken: PicturesTaken }
  /** The load of a page as it is seen, before and after a change. */
  film: { wish: { proofId: number; lensId: number; before: number; after: number }; taken: FilmTaken }
  /** The scripts and styles of a page, and what they could weigh. */
  files: { wish: object; taken: FilesTaken }
  /** A page as visitors get it, held against rules that somebody else is to carry out. */
  verify: { wish: { rules: (Rule & { removed?: true })[]; lensIds: number[] }; taken: VerifiedView[] }
  /** What a page loads before anybody answered whether they agree, after they did, and after they refused. */
  consent: { wish: { path: string; phone: boolean }; taken: ConsentTaken }
  /** What of the stylesheets and scripts of a site no page and no step has used. */
  nowhere: { wish: { sweepId: number }; taken: NowhereTaken }
  /** A page that complains, cut down to what it complains for. */
  smaller: { wish: { causeId: number }; taken: SmallerTaken }
}

/** What a page loads in the three states of consent, as far as it was looked at. */
export interface ConsentTaken {
  /** Null where none was found, or nobody has looked yet. */
  banner: ConsentBanner | null
  sides: ConsentSide[]
}

/** A stylesheet or a script that was looked through. */
export interface LookedThrough {
  /** Looks of earlier versions have none, and are of styles. */
  type?: 'style' | 'script'
  url: string
  payer: string
  isOwn: boolean
  plain: number
  wire: number
  pageIds: number[]
  sweeps: number
  counts: NowhereCount[]
  /** As many of them as there is room for. */
  rules: Pick<NowhereRule, 'what' | 'name' | 'line' | 'bytes' | 'because'>[]
  /** Of the site's own, where something goes; else null. */
  cleaned: string | null
  cleanedWire: number | null
  /** The hash of the file that it was made from (SRI); looks of earlier versions have none. */
  from?: string | null
  why: string | null
}

export interface NowhereTaken {
  /** Null before it is known what there is. */
  toLookAt: number | null
  scripts: number
  files: LookedThrough[]
}

/** How far a page that complains has been cut down. */
export interface SmallerTaken {
  /** The document as it came, a character for each byte; null before it was read. */
  source: string | null
  tries: TriedDocument[]
  /** Of how many parts the document is, and how many of them are left. */
  parts: number
  left: number
  /** The smallest document so far that complains. */
  html: string | null
}

/** A page that is looked at for what could be done on it. */
export interface IdeaPage {
  path: string
  kind: string
  device: 'desk' | 'handset'
}

/** A step that pages suggest. */
export interface StepIdea {
  /** With what it was seen to bring as what it expects. */
  step: Step
  /** Where it was tried first. */
  path: string
  device: 'desk' | 'handset'
  /** All kinds of pages that suggest it. */
  kinds: string[]
  /** How often it went through once it was known what to expect; null where it was not tried, since it sends something. */
  through: number | null
  why?: string
}

export interface IdeasTaken {
  looked: number
  ideas: StepIdea[]
  /** Pages that could not be read. */
  failed: { path: string; why: string }[]
}

/** One side after the other. */
export type FilmTaken = (Omit<FilmedLoad, 'lanes'> & { lanes: FilmLane[] })[]

/** What is known of a page's scripts and styles so far. */
export interface FilesTaken {
  /** Null before it is known what there is. */
  toLookAt: number | null
  leftOut: number
  files: LookedAtFile[]
}

/** What is known of a page's pictures so far. */
export interface PicturesTaken {
  /** Looks of earlier versions were taken through one lens, and say of it what is below. */
  lenses?: LookedThroughLens[]
  ratio?: number
  viewWidth?: number
  /** Null before the page was looked at. */
  toLookAt: number | null
  pictures: LookedAtPicture[]
  /** Looks of earlier versions have none. */
  frames?: LookedAtFrame[]
}

/** What of the rules was carried out on a page, seen through one lens. */
export interface VerifiedView {
  lensId: number
  effects: VerifiedEffect[]
}

export type OnDemandKind = keyof OnDemandKinds

const NOTHING_YET: { [K in OnDemandKind]: OnDemandKinds[K]['taken'] } = {
  server: [],
  without: { with: [], without: [] },
  actions: [],
  steps: [],
  film: [],
  verify: [],
  consent: { banner: null, sides: [] },
  nowhere: { toLookAt: null, scripts: 0, files: [] },
  smaller: { source: null, tries: [], parts: 0, left: 0, html: null },
  ideas: { looked: 0, ideas: [], failed: [] },
  pictures: { lenses: [], toLookAt: null, pictures: [] },
  files: { toLookAt: null, leftOut: 0, files: [] },
}

/** Something that is read because somebody asked for just that. */
export class OnDemandRow extends Model<InferAttributes<OnDemandRow>, InferCreationAttributes<OnDemandRow>> {
  declare id: CreationOptional<number>
  declare kind: OnDemandKind
  declare siteId: number
  declare pageId: number | null
  declare wish: object
  declare taken: object
  declare failure: CreationOptional<string | null>
  declare state: CreationOptional<'waiting' | 'done'>
  declare takenAt: CreationOptional<Date>
}

/** A row of one kind, with what that kind holds. */
export type OnDemand<K extends OnDemandKind> = Omit<OnDemandRow, 'kind' | 'wish' | 'taken'> &
  OnDemandKinds[K] & { kind: K }

export const emptyOf = <K extends OnDemandKind>(kind: K): OnDemandKinds[K]['taken'] =>
  structuredClone(NOTHING_YET[kind])

/** The row as one of its kind; null where it is none. */
export const asKind = <K extends OnDemandKind>(row: OnDemandRow | null, kind: K): OnDemand<K> | null =>
  row?.kind === kind ? (row as unknown as OnDemand<K>) : null

export function initialiseOnDemand(sequelize: Sequelize): void {
  OnDemandRow.init(
    {
      id: { type: DataTypes.INTEGER, primaryKey: true, autoIncrement: true },
      kind: DataTypes.TEXT,
      siteId: DataTypes.INTEGER,
      pageId: DataTypes.INTEGER,
      wish: DataTypes.JSONB,
      taken: DataTypes.JSONB,
      failure: DataTypes.TEXT,
      state: DataTypes.TEXT,
      takenAt: DataTypes.DATE,
    },
    { sequelize, tableName: 'reading_on_demand' },
  )
}
