import { Type } from '../nested/type.js'
import {
  ArrayMaxSize,
  ArrayMinSize,
  IsArray,
  IsBoolean,
  IsDateString,
  IsInt,
  IsNumber,
  IsOptional,
  IsString,
  Length,
  Max,
  Min,
  ValidateNested,
} from 'class-validator'
import { IsProofFigureLists } from '../maps/maps.js'
import { Page } from '../page/page.js'
import { ProofFigure } from '../proof/proof.js'
import { Sweep } from '../sweep/sweep.js'

/** One reading that looks at everything, and five that give times. */
export const WEIGH_IN_REPEATS = 6
export const MOST_VARIANTS = 6

/** An add-on of the shelf, or another version of one that is there. */
export class WeighedVersion {
  @IsString() @Length(1, 200) addon: string
  @IsString() @Length(1, 100) version: string
}

export class WeighedFeature {
  @IsString() @Length(1, 200) addon: string
  @IsString() @Length(1, 200) feature: string
}

export class WeighedSetting {
  @IsString() @Length(1, 200) addon: string
  @IsString() @Length(1, 200) setting: string
  @IsInt() value: number
}

/** The page as it is, but for what is named here. */
export class WeighedVariant {
  @IsString() @Length(1, 100) name: string
  /** Add-ons that are not there. */
  @IsOptional()
  @IsArray()
  @ArrayMaxSize(50)
  @IsString({ each: true })
  @Length(1, 200, { each: true })
  without?: string[]
  /** Add-ons that are there, in that version. */
  @IsOptional()
  @IsArray()
  @ArrayMaxSize(20)
  @ValidateNested({ each: true })
  @Type(() => WeighedVersion)
  versions?: WeighedVersion[]
  /** Features that are off. */
  @IsOptional()
  @IsArray()
  @ArrayMaxSize(50)
  @ValidateNested({ each: true })
  @Type(() => WeighedFeature)
  featuresOff?: WeighedFeature[]
  @IsOptional()
  @IsArray()
  @ArrayMaxSize(20)
  @ValidateNested({ each: true })
  @Type(() => WeighedSetting)
  settings?: WeighedSetting[]
  /** What it costs a year, in the maintainer's own money. */
  @IsOptional() @IsNumber() @Min(0) @Max(1e9) price?: number
}

export class WeighInRequest {
  @IsOptional() @IsString() @Length(1, 200) title?: string
  @IsArray() @ArrayMinSize(1) @ArrayMaxSize(6) @IsInt({ each: true }) pageIds: number[]
  /** The first is what all others are held against. */
  @IsArray()
  @ArrayMinSize(2)
  @ArrayMaxSize(MOST_VARIANTS)
  @ValidateNested({ each: true })
  @Type(() => WeighedVariant)
  variants: WeighedVariant[]
  @IsOptional() @IsInt() lensId?: number
  @IsOptional() @IsInt() @Min(3) @Max(20) repeats?: number
  /** Reads copies that the site makes for the weigh-in, and nobody else knows. */
  @IsOptional() @IsBoolean() onCopies?: boolean
}

/** What one payer costs more, or less, than under the first variant, by one reading of either. */
export class PayerDifferenceView {
  @IsString() payer: string
  @IsString() name: string
  @IsInt() requests: number
  @IsInt() transferBytes: number
}

/** How a page is under one variant, beside its figures. */
export class WeighedLook {
  @IsBoolean() hasPicture: boolean
  /** What it complains of, and not under the first variant. */
  @IsString({ each: true }) complaints: string[]
  /** Who pays for what it costs more or less than the first variant, the most bytes first. */
  @ValidateNested({ each: true }) @Type(() => PayerDifferenceView) payers: PayerDifferenceView[]
}

/** A page under every variant. */
export class WeighedPage {
  @ValidateNested() @Type(() => Page) page: Page
  /** Each measure, one figure a variant: the first variant before, this one after. */
  @IsProofFigureLists() figures: Record<string, ProofFigure[]>
  /** One a variant. */
  @ValidateNested({ each: true }) @Type(() => WeighedLook) looks: WeighedLook[]
}

/** What a page costs under one variant on the average of the pages weighed; null before it was read. */
export class VariantCost {
  @IsOptional() @IsNumber() requests: number | null
  @IsOptional() @IsNumber() transferBytes: number | null
  @IsOptional() @IsNumber() serverMs: number | null
}

/** What was weighed, in short. */
export class WeighInSummary {
  @IsInt() id: number
  @IsInt() siteId: number
  /** So that what was weighed on another site says so. */
  @IsString() siteName: string
  @IsString() title: string
  @IsDateString() createdAt: string
  @IsString() status: string
  /** Whether copies of the pages were read, and not the pages. */
  @IsBoolean() onCopies: boolean
  @ValidateNested({ each: true }) @Type(() => WeighedVariant) variants: WeighedVariant[]
  /** One a variant. */
  @ValidateNested({ each: true }) @Type(() => VariantCost) costs: VariantCost[]
}

export class WeighIn extends WeighInSummary {
  @ValidateNested() @Type(() => Sweep) sweep: Sweep
  @ValidateNested({ each: true }) @Type(() => WeighedPage) pages: WeighedPage[]
}

/** What a site could try on a page that is measured. */
export class ShelvedAddOn {
  @IsString() slug: string
  @IsString() name: string
  @IsString() version: string
  @IsString() kind: string
  @IsOptional() @IsString() summary: string | null
  /** The version that the site has of it. */
  @IsOptional() @IsString() installed: string | null
}

export class Shelf {
  /** False where the site's connector can't try what is not installed. */
  @IsBoolean() canTry: boolean
  /** Whether the site makes copies of pages to try things on. */
  @IsBoolean() canCopy: boolean
  @ValidateNested({ each: true }) @Type(() => ShelvedAddOn) addOns: ShelvedAddOn[]
}
