import { Type } from '../nested/type.js'
import {
  IsBoolean,
  IsDateString,
  IsIn,
  IsInt,
  IsOptional,
  IsString,
  Matches,
  MaxLength,
  ValidateNested,
} from 'class-validator'
import { OWN_PATH } from '@unvelt/core'

/** What is known of a page where nobody has answered, where they agreed, and where they refused. */
export const CONSENT_SIDES = ['before', 'agreed', 'refused'] as const

export class ConsentRequest {
  /** Of the page that is looked at; the front page without it. */
  @IsOptional()
  @IsString()
  @MaxLength(2000)
  @Matches(OWN_PATH, { message: 'path: expected a path of the site, such as /' })
  path?: string
  @IsOptional() @IsBoolean() phone?: boolean
}

/** What came from another company's host. */
export class ConsentOutsider {
  @IsString() host: string
  @IsInt() requests: number
  @IsInt() transferBytes: number
}

export class ConsentSide {
  @IsIn(CONSENT_SIDES) side: (typeof CONSENT_SIDES)[number]
  @IsInt() requests: number
  @IsInt() transferBytes: number
  /** The most bytes first. */
  @ValidateNested({ each: true }) @Type(() => ConsentOutsider) outsiders: ConsentOutsider[]
  /** Why it could not be looked at; null where it was. */
  @IsOptional() @IsString() failure: string | null
}

export class ConsentFirst {
  @IsString() selector: string
  @IsString() name: string
}

export class ConsentPress extends ConsentFirst {
  /** What has to be pressed before it is there. */
  @IsOptional() @ValidateNested() @Type(() => ConsentFirst) first?: ConsentFirst
  /** Switches (CSS) that have to be off before it is pressed. */
  @IsOptional() @IsString({ each: true }) off?: string[]
}

/** By what the site asks. */
export class ConsentBannerView {
  @IsString() text: string
  @ValidateNested() @Type(() => ConsentPress) agree: ConsentPress
  @IsOptional() @ValidateNested() @Type(() => ConsentPress) refuse: ConsentPress | null
}

/** What consent costs on a page of a site: what is loaded before an answer, after agreeing and after refusing. */
export class ConsentCost {
  @IsIn(['none', 'waiting', 'done']) state: 'none' | 'waiting' | 'done'
  @IsString() path: string
  @IsBoolean() phone: boolean
  @IsOptional() @IsString() failure: string | null
  @IsOptional() @IsDateString() takenAt: string | null
  /** Null where none was found, or nobody has looked. */
  @IsOptional() @ValidateNested() @Type(() => ConsentBannerView) banner: ConsentBannerView | null
  @ValidateNested({ each: true }) @Type(() => ConsentSide) sides: ConsentSide[]
}
