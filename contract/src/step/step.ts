import { Type } from '../nested/type.js'
import {
  ArrayMaxSize,
  ArrayMinSize,
  IsArray,
  IsBoolean,
  IsIn,
  IsInt,
  IsObject,
  IsOptional,
  IsString,
  Length,
  Matches,
  Max,
  MaxLength,
  Min,
  ValidateIf,
  ValidateNested,
} from 'class-validator'

export const STEP_DOES = ['scroll', 'click', 'type', 'choose', 'press', 'fill', 'expect'] as const
const WITH_TEXT = new Set<SiteStepAction['do']>(['type', 'choose'])

/** One thing that is done on a page. */
export class SiteStepAction {
  @IsIn(STEP_DOES) do: (typeof STEP_DOES)[number]
  /** A CSS selector, or `role=ROLE[name="NAME"]`; the first element in sight that matches is meant. */
  @ValidateIf((action: SiteStepAction) => action.do !== 'scroll')
  @Length(1, 500, { message: 'at: expected a CSS selector of at most 500 characters' })
  at?: string
  /** What is typed, which entry is chosen; of what is expected, the text in it. */
  @ValidateIf((action: SiteStepAction) => WITH_TEXT.has(action.do) || action.text !== undefined)
  @Length(1, 500, { message: 'text: expected a text of at most 500 characters' })
  text?: string
  /** Of what is expected: an attribute that it has, with the text as its value, or with any. */
  @ValidateIf(({ attribute }: SiteStepAction) => attribute !== undefined)
  @Matches(/^[A-Za-z_][\w:.-]{0,99}$/, { message: 'attribute: expected the name of an attribute' })
  attribute?: string
}

/** What visitors do on the pages of a kind, or on all. */
export class SiteStep {
  @IsString() @Length(1, 60) name: string
  @IsOptional() @IsString() @Length(1, 100) kind?: string | null
  /** It sends a form, and so is taken in rehearsals only; a site with trials takes it back. */
  @IsOptional() @IsBoolean() sends?: boolean
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

/** Steps to be played on a page of the live site, so that it is seen whether they work. */
export class StepTrialRequest {
  @Matches(/^\/(?![/\\])/, { message: 'path: expected a path of the site' }) @MaxLength(2_000) path: string
  @IsOptional() @IsIn(['desk', 'handset']) device?: 'desk' | 'handset'
  /** How often, each time on a fresh page. */
  @IsOptional() @IsInt() @Min(1) @Max(5) times?: number
  @IsArray()
  @ArrayMinSize(1)
  @ArrayMaxSize(30)
  @ValidateNested({ each: true })
  @Type(() => SiteStep)
  steps: SiteStep[]
}

export class TriedStep {
  @IsString() name: string
  @IsIn(['done', 'not there', 'failed']) outcome: 'done' | 'not there' | 'failed'
  @IsOptional() @IsString() why: string | null
}

/** How it went, time by time. */
export class StepTrial {
  @IsInt() id: number
  @IsString() path: string
  @IsIn(['desk', 'handset']) device: 'desk' | 'handset'
  @IsInt() times: number
  @IsIn(['waiting', 'done']) state: 'waiting' | 'done'
  @IsOptional() @IsString() failure: string | null
  /** Steps in the order in which they were taken; a list for each time. */
  @IsArray() taken: TriedStep[][]
}

/** A step that pages suggest, with what it was seen to bring. */
export class StepIdea {
  @ValidateNested() @Type(() => SiteStep) step: SiteStep
  /** Where it was tried. */
  @IsString() path: string
  @IsIn(['desk', 'handset']) device: 'desk' | 'handset'
  /** Kinds of pages that suggest it. */
  @IsString({ each: true }) kinds: string[]
  /** It went through each time; null where it sends something and so was not tried. */
  @IsOptional() @IsBoolean() works: boolean | null
  @IsOptional() @IsString() why: string | null
}

/** What the pages of a site suggest to be done on them. */
export class StepIdeas {
  @IsInt() id: number
  @IsIn(['waiting', 'done']) state: 'waiting' | 'done'
  @IsOptional() @IsString() failure: string | null
  @IsString() takenAt: string
  /** Pages that are looked at, each device by itself, and how many have been. */
  @IsInt() pages: number
  @IsInt() looked: number
  @IsArray() ideas: StepIdea[]
  /** Pages that could not be read. */
  @IsArray() failed: UnreadPage[]
}

export class UnreadPage {
  @IsString() path: string
  @IsString() why: string
}
