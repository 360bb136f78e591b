import { Type } from '../nested/type.js'
import {
  IsBoolean,
  IsDateString,
  IsIn,
  IsInt,
  IsOptional,
  IsString,
  Length,
  Max,
  Min,
  ValidateNested,
} from 'class-validator'
import { NETS, type Net } from './nets.js'
import { RuleView } from '../rule/rule.js'

/** How far a change of the live rules is. */
export const DEPLOYMENT_STATES = [
  'begun',
  'sending',
  'sent',
  'purged',
  'checked',
  'live',
  'watched',
  'going-back',
  'taken-back',
  'failed',
] as const
export type DeploymentState = (typeof DEPLOYMENT_STATES)[number]

/** Which of the touched pages are read before and after. */
export const READ_AGAIN = ['sample', 'all', 'none'] as const
export type ReadAgain = (typeof READ_AGAIN)[number]

export class PutLiveRequest {
  @IsOptional() @IsIn(READ_AGAIN) readAgain?: ReadAgain
  /** Why it is put live without a rehearsal that passed; not needed where there is one. */
  @IsOptional() @IsString() @Length(1, 2000) unrehearsed?: string
  /** As the site's setting says, where nothing is said here. */
  @IsOptional() @IsIn(NETS) net?: Net
  /** First on one page of each touched kind, and on the rest only where all guards hold there. */
  @IsOptional() @IsBoolean() inParts?: boolean
  /** Although nothing is to go live at this hour. */
  @IsOptional() @IsBoolean() evenNow?: boolean
}

export class TakeBackQuery {
  /** The version that was shown as live when it was asked for: where another is by now, nothing is taken back. */
  @IsOptional() @Type(() => Number) @IsInt() @Min(0) live?: number
}

export class DeploymentStep {
  @IsDateString() at: string
  /** A plain sentence. */
  @IsString() said: string
}

export class DeploymentParts {
  @IsInt() firstPages: number
  @IsIn(['first', 'rest']) at: 'first' | 'rest'
}

/** One change of the live rules, from sent to checked. It ends whole or not at all. */
export class Deployment {
  @IsInt() id: number
  @IsInt() siteId: number
  @IsString() what: string
  @IsIn(['drafts', 'take-back', 'adopt', 'restore']) kind: 'drafts' | 'take-back' | 'adopt' | 'restore'
  @IsIn(DEPLOYMENT_STATES) state: DeploymentState
  @IsInt() fromVersion: number
  /** Null until the site has said it. */
  @IsOptional() @IsInt() toVersion: number | null
  @ValidateNested({ each: true }) @Type(() => DeploymentStep) steps: DeploymentStep[]
  /** Why it is not live. */
  @IsOptional() @IsString() failure: string | null
  @IsOptional() @IsInt() proofId: number | null
  @IsIn(NETS) net: Net
  /** Where it goes live in parts: how many pages go first, and which part is at hand or was the last. */
  @ValidateNested() @Type(() => DeploymentParts) parts: DeploymentParts | null
  /** The rehearsal that plays its guards as visitors see them; null before it is live, or where none are played. */
  @IsOptional() @IsInt() netId: number | null
  @IsDateString() startedAt: string
  /** Null while it is under way. */
  @IsOptional() @IsDateString() finishedAt: string | null
}

/** The rules that the site has, beside those that Unvelt last put there. */
export class RulesAtSite {
  @IsInt() siteVersion: number
  @IsInt() ourVersion: number
  /** What the site has and Unvelt has not, and the other way round; a rule that says something else is in both. */
  @ValidateNested({ each: true }) @Type(() => RuleView) onlyAtSite: RuleView[]
  @ValidateNested({ each: true }) @Type(() => RuleView) onlyOurs: RuleView[]
}

/** Which of the two is to hold; said of the version that was looked at. */
export class RulesAtSiteRequest {
  @IsInt() @Min(0) @Max(2_147_483_647) siteVersion: number
}
