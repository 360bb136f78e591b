import { IsFigures, IsTexts } from '../maps/maps.js'
import { Type } from '../nested/type.js'
import {
  ArrayMaxSize,
  IsArray,
  IsBoolean,
  IsDateString,
  IsIn,
  IsInt,
  IsNumber,
  IsOptional,
  IsString,
  Length,
  Matches,
  MaxLength,
  ValidateNested,
} from 'class-validator'
import { KINDS, VERDICTS, type VerdictWord } from './words.js'

/** A part of an add-on with its own switch. */
export class AddOnFeature {
  @IsString() slug: string
  @IsString() name: string
  @IsBoolean() on: boolean
  /** In how many pages' content it is used, where the site knows. */
  @IsOptional() @IsInt() uses?: number
}

export class AddOnSetting {
  @IsString() slug: string
  @IsString() name: string
  @IsInt() value: number
  @IsInt() least: number
  @IsInt() most: number
  /** Whether it can have another value on some pages. */
  @IsOptional() @IsBoolean() perPage?: boolean
}

export class AddOnTable {
  @IsString() name: string
  @IsInt() rows: number
  @IsInt() bytes: number
  @IsOptional() @IsInt() reclaimableBytes?: number
}

export class AddOnTask {
  @IsString() name: string
  @IsInt() everySeconds: number
}

export class AddOnFile {
  @IsString() path: string
  @IsString() type: string
  @IsInt() bytes: number
}

/** What was decided about an add-on, by whom and why. */

export class Verdict {
  @IsIn(VERDICTS) verdict: VerdictWord
  @IsString() why: string
  @IsString() who: string
  @IsDateString() at: string
}

export class AddOn {
  @IsInt() id: number
  @IsString() slug: string
  @IsString() kind: string
  @IsString() name: string
  @IsOptional() @IsString() version: string | null
  @IsOptional() @IsString() author: string | null
  @IsString() summary: string
  /** Where Unvelt knows it from: the connector, or a reading. */
  @IsString() source: string
  @IsString({ each: true }) needs: string[]
  @IsBoolean() library: boolean
  @IsBoolean() canSkip: boolean
  /** Switched on at the site. */
  @IsBoolean() active: boolean
  @IsOptional() @IsDateString() since: string | null
  /** Versions that the site can install. */
  @IsString({ each: true }) versions: string[]
  @ValidateNested({ each: true }) @Type(() => AddOnFeature) features: AddOnFeature[]
  @ValidateNested({ each: true }) @Type(() => AddOnSetting) settings: AddOnSetting[]
  @ValidateNested({ each: true }) @Type(() => AddOnTable) tables: AddOnTable[]
  @ValidateNested({ each: true }) @Type(() => AddOnTask) tasks: AddOnTask[]
  /** Shows nothing on any page and works all the same: `unseen` always, `once` in the past. */
  @IsOptional() @IsString() works: string | null
  /** How an outsider's tag comes into the page. */
  @IsOptional() @IsString() insertedBy: string | null
  @ValidateNested({ each: true }) @Type(() => AddOnFile) files: AddOnFile[]
  @IsString({ each: true }) outsideHosts: string[]
  /** The site no longer lists it; its past stays. */
  @IsBoolean() gone: boolean
  /** Blocks that content can use it through. */
  @IsString({ each: true }) blocks: string[]
  /** The jobs it does. Add-ons with a job in common are shown together. */
  @IsString({ each: true }) jobs: string[]
  @IsString() owner: string
  /** What it is for. */
  @IsString() purpose: string
  /** What it is worth to the site. */
  @IsString() worth: string
  /** Fact → where it is known from: connector, reading, hand or import. */
  @IsTexts() from: Record<string, string>
  /** Undecided, by nobody, as long as nobody has decided. */
  @ValidateNested() @Type(() => Verdict) verdict: Verdict
  /** Questions that wait for their answer. */
  @IsInt() openQuestions: number
}

const LINE = 200
const TEXT = 2000

/** What the maintainer writes over the inventory, or what a new entry is made of. An empty text takes a word back. */
export class AddOnChange {
  @IsOptional() @IsString() @MaxLength(LINE) name?: string
  @IsOptional() @IsIn(KINDS) kind?: string
  @IsOptional() @IsString() @MaxLength(LINE) version?: string
  @IsOptional() @IsString() @MaxLength(LINE) author?: string
  @IsOptional() @IsString() @MaxLength(TEXT) summary?: string
  @IsOptional() @IsArray() @ArrayMaxSize(20) @Length(1, 60, { each: true }) jobs?: string[]
  @IsOptional() @IsString() @MaxLength(LINE) owner?: string
  @IsOptional() @IsString() @MaxLength(TEXT) purpose?: string
  @IsOptional() @IsString() @MaxLength(TEXT) worth?: string
}

export class NewAddOn extends AddOnChange {
  @Matches(/^[a-z0-9][a-z0-9-]{0,99}$/, { message: 'Expected small letters, digits and dashes.' }) slug: string
}

export class VerdictInput {
  @IsIn(VERDICTS) verdict: VerdictWord
  @IsString() @MaxLength(TEXT) why: string
  @IsString() @MaxLength(LINE) who: string
}

export class Question {
  @IsInt() id: number
  @IsString() slug: string
  @IsString() asks: string
  @IsString() whom: string
  @IsDateString() askedAt: string
  @IsOptional() @IsString() answer: string | null
  @IsOptional() @IsDateString() answeredAt: string | null
}

export class QuestionInput {
  @IsString() @Length(1, TEXT) asks: string
  @IsString() @MaxLength(LINE) whom: string
}

export class AnswerInput {
  @IsString() @Length(1, TEXT) answer: string
}

/** One thing known of an add-on's use. `path` is null for a word that holds on every page. */
export class UseFactView {
  @IsOptional() @IsString() path: string | null
  @IsOptional() @IsInt() pageId: number | null
  @IsOptional() @IsString() feature: string | null
  @IsString() source: string
  @IsString() word: string
  @IsString() because: string
  @IsOptional() @IsString() who: string | null
}

/** What is known of an add-on's use on one page, in one word, and why. */
export class UseOnPage {
  @IsInt() pageId: number
  @IsString() word: string
  /** How often visitors touched it there in thirty days; null where that is not known. */
  @IsOptional() @IsInt() touches: number | null
  @IsString({ each: true }) because: string[]
}

/** The maintainer's own word on the use of an add-on. Without a page it holds everywhere. */
export class UseWordInput {
  @IsOptional() @IsArray() @ArrayMaxSize(10_000) @IsInt({ each: true }) pageIds?: number[]
  @IsOptional() @IsIn(['used', 'not seen', 'planned', 'works unseen']) word?: string | null
  @IsOptional() @IsString() @MaxLength(TEXT) because?: string
  @IsOptional() @IsString() @MaxLength(LINE) who?: string
}

/** An add-on over past sweeps, oldest first: medians of the pages that it was on. */
export class AddOnPast {
  @IsInt() sweepId: number
  @IsDateString() at: string
  @IsOptional() @IsString() version: string | null
  /** Null where the sweep does not know. */
  @IsOptional() @IsBoolean() active: boolean | null
  @IsInt() pages: number
  /** Sums over the sweep's pages, by measure. */
  @IsFigures() tolls: Record<string, number>
}

export class AddOnFileView {
  @IsString() url: string
  /** What rules call it by. */
  @IsString() name: string
  @IsString() type: string
  @IsInt() pages: number
  @IsInt() requests: number
  @IsInt() transferBytes: number
  @IsInt() decodedBytes: number
  @IsInt() idleBytes: number
  @IsNumber() mainThreadMs: number
}

/** All that is known of one add-on. */
export class AddOnSheet {
  @ValidateNested() @Type(() => AddOn) addOn: AddOn
  @IsString({ each: true }) neededBy: string[]
  /** Slugs of others that do one of its jobs. */
  @IsString({ each: true }) sameJob: string[]
  @ValidateNested({ each: true }) @Type(() => UseOnPage) use: UseOnPage[]
  @ValidateNested({ each: true }) @Type(() => UseFactView) facts: UseFactView[]
  @ValidateNested({ each: true }) @Type(() => Verdict) verdicts: Verdict[]
  @ValidateNested({ each: true }) @Type(() => Question) questions: Question[]
  @ValidateNested({ each: true }) @Type(() => AddOnPast) past: AddOnPast[]
  @ValidateNested({ each: true }) @Type(() => AddOnFileView) loaded: AddOnFileView[]
}

/** What came of a list that was taken in. */
export class InventoryTaken {
  /** Entries that nobody had told of before, or lines that were stored. */
  @IsInt() added: number
  @IsInt() known: number
}
