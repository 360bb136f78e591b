import { Type } from '../nested/type.js'
import { IsInt, IsNumber, IsOptional, IsString, ValidateNested } from 'class-validator'

/** A host outside, as far as it serves one payer. Requests and bytes are sums over the pages, one reading each. */
export class OutsideHost {
  @IsString() host: string
  @IsInt() requests: number
  @IsInt() transferBytes: number
  /** Pages that load from it. */
  @IsInt() pages: number
  /** The slowest answer on any page, ms. */
  @IsNumber() slowestMs: number
  /** The slowest answer on a page, in the middle of the pages, ms: one load alone that was late says nothing of a host. */
  @IsNumber() usualMs: number
  /** Requests that came to nothing: no answer, or one from 500 on. */
  @IsInt() failed: number
  /** The host outside that brings it in on most pages; null where the page itself does. */
  @IsOptional() @IsString() broughtBy: string | null
  /** tag, script, style or redirect. */
  @IsString() how: string
}

export class OutsidePayer {
  @IsString() payer: string
  @IsString() name: string
  @IsInt() requests: number
  @IsInt() transferBytes: number
  @IsInt() pages: number
  @ValidateNested({ each: true }) @Type(() => OutsideHost) hosts: OutsideHost[]
}

export class RedirectChain {
  @IsString() payer: string
  @IsString({ each: true }) hops: string[]
  @IsInt() pages: number
}

export class FaceUse {
  @IsString() family: string
  @IsString() weight: string
  @IsString() style: string
  /** Pages that declare it, and pages that draw with it. */
  @IsInt() declared: number
  @IsInt() drawn: number
}

/** All that a sweep saw of other companies' hosts. */
export class Outside {
  @IsOptional() @IsInt() sweepId: number | null
  @IsOptional() @IsString() lens: string | null
  @IsInt() pages: number
  @IsInt() ownRequests: number
  @IsInt() ownTransferBytes: number
  @ValidateNested({ each: true }) @Type(() => OutsidePayer) payers: OutsidePayer[]
  @ValidateNested({ each: true }) @Type(() => RedirectChain) chains: RedirectChain[]
  @ValidateNested({ each: true }) @Type(() => FaceUse) faces: FaceUse[]
}
