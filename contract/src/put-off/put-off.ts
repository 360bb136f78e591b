import {
  ArrayMaxSize,
  ArrayMinSize,
  ArrayUnique,
  IsArray,
  IsDateString,
  IsIn,
  IsInt,
  IsOptional,
  IsString,
  IsTimeZone,
  Max,
  Min,
  ValidateNested,
} from 'class-validator'
import { PutLiveRequest } from '../deployment/deployment.js'
import { Type } from '../nested/type.js'

/** Hours of some days of the week in which nothing goes live. */
export class QuietTime {
  /** 1 for Monday to 7 for Sunday. */
  @IsArray()
  @ArrayMinSize(1, { message: 'Choose a day at least.' })
  @ArrayUnique()
  @IsInt({ each: true })
  @Min(1, { each: true })
  @Max(7, { each: true })
  days: number[]
  /** Minutes of the day. */
  @IsInt() @Min(0) @Max(1439) from: number
  @IsInt() @Min(1) @Max(1440) until: number
}

export class QuietTimes {
  @IsTimeZone({ message: 'Expected a time zone such as Europe/Lisbon.' }) zone: string
  @IsArray() @ArrayMaxSize(20) @ValidateNested({ each: true }) @Type(() => QuietTime) times: QuietTime[]
}

export class PutOffRequest extends PutLiveRequest {
  /** When it is to go live. */
  @IsDateString() dueAt: string
}

export const PUT_OFF_STATES = ['waiting', 'begun', 'withdrawn', 'refused'] as const

/** Drafts that go live by themselves later, if nothing speaks against it then. */
export class PutOff {
  @IsInt() id: number
  @IsString() what: string
  @IsDateString() dueAt: string
  @IsDateString() madeAt: string
  @IsIn(PUT_OFF_STATES) state: (typeof PUT_OFF_STATES)[number]
  /** Why it did not go live. */
  @IsOptional() @IsString() why: string | null
  /** The change that it became. */
  @IsOptional() @IsInt() deploymentId: number | null
}

/** When changes may go live. */
export class PutTimes {
  /** Null where they may now, or never. */
  @IsOptional() @IsDateString() opensAt: string | null
  /** The newest first; a few. */
  @ValidateNested({ each: true }) @Type(() => PutOff) putOff: PutOff[]
}
