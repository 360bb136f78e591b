import { IsFigures } from '../maps/maps.js'
import { Type } from '../nested/type.js'
import { LATE_BECAUSE, type LateBecause } from '@unvelt/core'
import { IsBoolean, IsDateString, IsIn, IsInt, IsNumber, IsOptional, IsString, ValidateNested } from 'class-validator'

export class Page {
  @IsInt() id: number
  @IsString() path: string
  @IsString() title: string
  @IsString() kind: string
  @IsString() area: string
  /** Only people who have signed in see it. */
  @IsBoolean() signedIn: boolean
  /** The day its words were last changed, where the site tells. */
  @IsOptional() @IsDateString() modified: string | null
  /** Page views in the last thirty days, where the site counts them. */
  @IsOptional() @IsInt() views: number | null
}

/** What the site's sitemap lists, as far as it is its own pages. */
export class SitemapPages {
  @IsInt() listed: number
  /** Pages of the site that are in it. */
  @IsInt({ each: true }) pageIds: number[]
  /** Paths in it that the site tells nothing of, the first of them. */
  @IsString({ each: true }) unknown: string[]
  @IsInt() unknownCount: number
}

/** One request of a page's median reading, with who pays for it and why. Times in ms, sizes in bytes. */
export class PageRequest {
  @IsString() id: string
  @IsString() url: string
  @IsString() type: string
  /** Whether a tag or header asked for it ahead of its use. */
  @IsBoolean() preloaded: boolean
  @IsOptional() @IsInt() status: number | null
  @IsOptional() @IsString() failure: string | null
  @IsNumber() startedMs: number
  @IsOptional() @IsNumber() endedMs: number | null
  @IsInt() transferBytes: number
  /** It came from the browser's own cache, and nothing went out for it. */
  @IsBoolean() fromCache: boolean
  /** Nobody noted how many bytes came; then `transferBytes` is 0. */
  @IsBoolean() sizeUnknown: boolean
  @IsInt() decodedBytes: number
  /** Seconds that a browser may keep it, and by which header. Null where no answer came. */
  @IsOptional() @IsNumber() cacheSeconds: number | null
  @IsString() cacheBy: string
  /** How the body was compressed, `none` where it could have been, null where that makes no sense. */
  @IsOptional() @IsString() compression: string | null
  /** Null where it isn't known what of the file was used. */
  @IsOptional() @IsInt() idleBytes: number | null
  /** Of the same file over all pages of the sweep; null where it isn't known. */
  @IsOptional() @IsInt() idleEverywhere: number | null
  @IsOptional() @IsInt() neededLater: number | null
  @IsNumber() mainThreadMs: number
  @IsString() payer: string
  @IsString() evidence: string
  @IsString() because: string
}

/** A piece of an add-on's code that the site ran for the page. Own time in ms, without what it called. */
export class ServerStepView {
  @IsString() addon: string
  @IsString() step: string
  @IsInt() calls: number
  @IsNumber() selfMs: number
  @IsInt() queries: number
  @IsNumber() queryMs: number
}

/** Queries that differ in their values only. */
export class QueryGroupView {
  @IsString() addon: string
  @IsString() statement: string
  @IsInt() count: number
  @IsNumber() ms: number
  @IsOptional() @IsInt() rows: number | null
}

/** Where a page's header and the spans of the same request say something else of one payer. Own time in ms. */
export class WitnessDifferenceView {
  @IsString() payer: string
  @IsNumber() timingMs: number
  @IsNumber() spansMs: number
  @IsInt() timingQueries: number
  @IsInt() spansQueries: number
}

/** What the site told of its own work for one reading. */
export class ServerWork {
  @IsInt() spans: number
  @ValidateNested({ each: true }) @Type(() => ServerStepView) steps: ServerStepView[]
  @ValidateNested({ each: true }) @Type(() => QueryGroupView) queries: QueryGroupView[]
  @IsOptional() @IsInt() peakMemoryBytes: number | null
  /** Whether the figures by add-on are those of the spans, since the page's header told nothing. */
  @IsBoolean() chargedBySpans: boolean
  /** Null where only one of the two told of the whole. */
  @IsOptional() @ValidateNested({ each: true }) @Type(() => WitnessDifferenceView) differences:
    WitnessDifferenceView[] | null
}

/** How well a median is known from its repeats. Times in ms. */
export class RepeatabilityView {
  @IsInt() count: number
  @IsNumber() least: number
  @IsNumber() most: number
  /** Half of the median's 95 % interval; null with fewer than three repeats. */
  @IsOptional() @IsNumber() uncertainty: number | null
  @IsBoolean() tooNoisy: boolean
  /** How many repeats would likely be enough; null where these are. */
  @IsOptional() @IsInt() repeatsNeeded: number | null
}

/** A file that a step brought. */
export class StepRequest {
  @IsString() url: string
  @IsString() type: string
  @IsString() payer: string
  @IsInt() transferBytes: number
}

/** What was done on the page after its timing, and what that brought. */
export class StepView {
  @IsString() name: string
  /** done, not there, or failed */
  @IsString() outcome: string
  @IsOptional() @IsString() why: string | null
  @ValidateNested({ each: true }) @Type(() => StepRequest) requests: StepRequest[]
}

export class CompanionView {
  @IsString() kind: string
  @IsString() url: string
}

export class PictureSize {
  @IsInt() width: number
  @IsInt() height: number
}

/** DOM elements of one payer. */
export class ElementsOf {
  @IsString() payer: string
  /** Came with the HTML. */
  @IsInt() written: number
  /** Made in the browser. */
  @IsInt() made: number
}

/** Where the wait until the load event goes, in ms; the parts add up to it. */
export class WaitView {
  @IsNumber() hostAndNetwork: number
  @IsNumber() cms: number
  @IsNumber() addOnsOnServer: number
  @IsNumber() addOnsInBrowser: number
  @IsNumber() content: number
}

export class FontView {
  @IsString() family: string
  @IsString() weight: string
  @IsString() style: string
  @IsBoolean() drawn: boolean
}

/** Figures of the page over its repeats, and the requests of the repeat in the middle. */
/** The picture that is a page's largest paint, asked for later than it could have been. */
export class LatePaintView {
  @IsString() url: string
  /** Who pays for it, and how rules name its file. */
  @IsString() payer: string
  @IsString() file: string
  @IsIn(LATE_BECAUSE) because: LateBecause
  /** Through which it was seen to be the largest. */
  @IsIn(['desk', 'handset']) device: 'desk' | 'handset'
  /** ms after navigation start: the page's first byte, the request, the paint. */
  @IsNumber() couldMs: number
  @IsNumber() askedMs: number
  @IsNumber() paintedMs: number
}

export class PageSheet {
  @ValidateNested() @Type(() => Page) page: Page
  @IsInt() sweepId: number
  @IsInt() repeats: number
  /** How many of them give the times. */
  @IsInt() timedRepeats: number
  @IsInt() failedRepeats: number
  @IsString({ each: true }) failures: string[]
  /** Readings left out since a cache had kept their page. Where none was made afresh they stand, and none is left out. */
  @IsInt() keptLeftOut: number
  @IsOptional() @IsString() keptBecause: string | null
  /** Medians, ms; null where no repeat reported it. */
  @IsFigures() timings: Record<string, number | null>
  /** Of the load event; null where no repeat reported it. */
  @IsOptional() @ValidateNested() @Type(() => RepeatabilityView) noise: RepeatabilityView | null
  /** When the load event came in the repeat whose requests are listed. */
  @IsOptional() @IsNumber() middleLoadMs: number | null
  @IsInt() domElements: number
  @ValidateNested({ each: true }) @Type(() => PageRequest) requests: PageRequest[]
  @IsString({ each: true }) consoleErrors: string[]
  /** Null where the site sends no traces, or this one has not come. */
  @IsOptional() @ValidateNested() @Type(() => ServerWork) server: ServerWork | null
  /** Of the middle repeat. */
  @IsOptional() @ValidateNested() @Type(() => WaitView) wait: WaitView | null
  @ValidateNested({ each: true }) @Type(() => FontView) fonts: FontView[]
  /** Of the repeat that took them; none where the sweep takes no steps. */
  @ValidateNested({ each: true }) @Type(() => StepView) steps: StepView[]
  /** Bytes that were idle in the load and were used by the end of the steps, by payer. */
  @IsFigures() neededLater: Record<string, number>
  /** Of the repeat that took the steps, before them; empty where none did. */
  @ValidateNested({ each: true }) @Type(() => ElementsOf) elementsBy: ElementsOf[]
  /** Whether the site says what each add-on wrote; all that came with the HTML is the page's otherwise. */
  @IsBoolean() writersTold: boolean
  @ValidateNested({ each: true }) @Type(() => CompanionView) companions: CompanionView[]
  /** Null where the largest paint is no picture, or it is asked for soon enough. */
  @IsOptional() @ValidateNested() @Type(() => LatePaintView) latePaint: LatePaintView | null
  /** Null where no picture was taken. */
  @IsOptional() @ValidateNested() @Type(() => PictureSize) picture: PictureSize | null
}
