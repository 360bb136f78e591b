import { Type } from 'class-transformer'
import {
  ArrayMaxSize,
  ArrayMinSize,
  IsArray,
  IsBoolean,
  IsIn,
  IsObject,
  IsOptional,
  IsString,
  Length,
  MaxLength,
  ValidateIf,
  ValidateNested,
} from 'class-validator'

export const STEP_DOES = ['scroll', 'click', 'type', 'fill'] as const

/** One thing that is done on a page. */
export class SiteStepAction {
  @IsIn(STEP_DOES) do: (typeof STEP_DOES)[number]
  /** A CSS selector; the first element in sight that matches is meant. */
  @ValidateIf((action: SiteStepAction) => action.do !== 'scroll')
  @Length(1, 500, { message: 'at: expected a CSS selector of at most 500 characters' })
  at?: string
  @ValidateIf((action: SiteStepAction) => action.do === 'type')
  @Length(1, 500, { message: 'text: expected a text of at most 500 characters' })
  text?: string
}

/** What visitors do on the pages of a kind, or on all. */
export class SiteStep {
  @IsString() @Length(1, 60) name: string
  @IsOptional() @IsString() @Length(1, 100) kind?: string | null
  @IsArray()
  @ArrayMinSize(1)
  @ArrayMaxSize(50)
  @ValidateNested({ each: true })
  @Type(() => SiteStepAction)
  actions: SiteStepAction[]
}

export class SiteStepsInput {
  @IsArray() @ArrayMaxSize(30) @ValidateNested({ each: true }) @Type(() => SiteStep) steps: SiteStep[]
}

/** The steps that a sweep takes on the pages of a site. */
export class SiteSteps extends SiteStepsInput {
  /** Nobody has changed them yet. */
  @IsBoolean() standard: boolean
}

/** A user flow as a browser's recorder saved it. */
export class StepRecording {
  @IsOptional() @IsString() @MaxLength(60) name?: string
  @IsOptional() @IsString() @MaxLength(100) kind?: string | null
  @IsObject({ message: 'recording: expected the file’s JSON' }) recording: Record<string, unknown>
}
