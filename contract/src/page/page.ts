import { Type } from 'class-transformer'
import { IsBoolean, IsDateString, IsInt, IsNumber, IsOptional, IsString, ValidateNested } from 'class-validator'

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

/** One request of a page's median reading, with who pays for it and why. Times in ms, sizes in bytes. */
export class PageRequest {
  @IsString() id: string
  @IsString() url: string
  @IsString() type: string
  status: number | null
  failure: string | null
  @IsNumber() startedMs: number
  endedMs: number | null
  @IsInt() transferBytes: number
  @IsInt() decodedBytes: number
  @IsString() payer: string
  @IsString() evidence: string
  @IsString() because: string
}

/** Figures of the page over its repeats, and the requests of the repeat in the middle. */
export class PageSheet {
  @ValidateNested() @Type(() => Page) page: Page
  @IsInt() sweepId: number
  @IsInt() repeats: number
  @IsInt() failedRepeats: number
  failures: string[]
  /** Medians, ms; null where no repeat reported it. */
  timings: Record<string, number | null>
  /** When the load event came in the repeat whose requests are listed. */
  middleLoadMs: number | null
  @IsInt() domElements: number
  @ValidateNested({ each: true }) @Type(() => PageRequest) requests: PageRequest[]
  consoleErrors: string[]
}
