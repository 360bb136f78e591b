import { Type } from '../nested/type.js'
import {
  ArrayMaxSize,
  IsBoolean,
  IsIn,
  IsInt,
  IsNumber,
  IsObject,
  IsOptional,
  IsString,
  Length,
  Matches,
  Max,
  MaxLength,
  Min,
  ValidateNested,
} from 'class-validator'
import { OWN_PATH } from '@unvelt/core'

export class LensDevice {
  @IsInt() @Min(240) @Max(4000) viewportWidth: number
  @IsInt() @Min(240) @Max(4000) viewportHeight: number
  /** A phone: touch, a mobile browser's name, and pages laid out for it. */
  @IsBoolean() phone: boolean
  /** How many times slower its processor is than this machine's; 1 is not slowed down. */
  @IsNumber() @Min(1) @Max(20) cpuSlowdown: number
}

export class LensNetwork {
  /** Round trip, ms: what a request waits for its answer, and a connection to be set up. */
  @IsInt() @Min(0) @Max(5000) latencyMs: number
  /** Thousands of bits a second. */
  @IsInt() @Min(50) @Max(10_000_000) downKbps: number
  @IsInt() @Min(50) @Max(10_000_000) upKbps: number
}

/** Who looks. What signs the visitor in is kept sealed and is never handed out again. */
export class LensVisitor {
  @IsIn(['signed-out', 'cookie', 'form']) kind: 'signed-out' | 'cookie' | 'form'
  /** What the visitor may do there, in a word: member, editor. */
  @IsOptional() @IsString() @MaxLength(60) role?: string
  /** For cookie: as the `Cookie` header has it. */
  @IsOptional()
  @IsString()
  @MaxLength(4000)
  @Matches(/^[^\r\n]*=[^\r\n]*$/, { message: 'cookie: expected name=value' })
  cookie?: string
  /** For form: where the sign-in form is sent to, and its fields. */
  @IsOptional()
  @IsString()
  @MaxLength(2000)
  @Matches(OWN_PATH, { message: 'path: expected a path of the site' })
  path?: string
  /** For form: where it stands, if it is to be read there each time, with what the site fills in. */
  @IsOptional()
  @IsString()
  @MaxLength(2000)
  @Matches(OWN_PATH, { message: 'page: expected a path of the site' })
  page?: string
  @IsOptional() @IsObject() fields?: Record<string, string>
}

/** Something on the site's banner (CSS), and what stands on it. */
export class LensConsentPress {
  @IsString() @Length(1, 2000) selector: string
  @IsString() @MaxLength(200) name: string
}

/**
 * What the visitor has answered where the site asks whether it may follow them, and how: pressed on its own banner, or by what the
 * site keeps of an answer.
 */
export class LensConsentInput {
  @IsIn(['agreed', 'refused']) answer: 'agreed' | 'refused'
  @IsIn(['press', 'cookie', 'storage', 'session']) by: 'press' | 'cookie' | 'storage' | 'session'
  /** For press: what is pressed (CSS), and what stands on it. */
  @IsOptional() @IsString() @Length(1, 2000) selector?: string
  @IsOptional() @IsString() @MaxLength(200) name?: string
  /** For press: what is pressed before it, where it is not there at once. */
  @IsOptional() @ValidateNested() @Type(() => LensConsentPress) first?: LensConsentPress
  /** For press: switches (CSS) that are switched off before it, where they are on. */
  @IsOptional() @ArrayMaxSize(60) @IsString({ each: true }) @Length(1, 2000, { each: true }) off?: string[]
  /** For cookie: as the `Cookie` header has it. */
  @IsOptional()
  @IsString()
  @MaxLength(4000)
  @Matches(/^[^\r\n]*=[^\r\n]*$/, { message: 'cookie: expected name=value' })
  cookie?: string
  /** For storage and session: an entry of the page's local storage, or of its session storage. */
  @IsOptional() @IsString() @Length(1, 500) key?: string
  @IsOptional() @IsString() @MaxLength(4000) value?: string
}

/** How pages are looked at. */
export class LensInput {
  @IsString() @Length(1, 120) name: string
  @ValidateNested() @Type(() => LensDevice) device: LensDevice
  /** None is the wire as it is. */
  @IsOptional() @ValidateNested() @Type(() => LensNetwork) network: LensNetwork | null
  @ValidateNested() @Type(() => LensVisitor) visitor: LensVisitor
  /** cold: the browser has never been here; warm: it looks a second time. */
  @IsIn(['cold', 'warm']) cache: 'cold' | 'warm'
  /** Nothing is answered without it. */
  @IsOptional() @ValidateNested() @Type(() => LensConsentInput) consent?: LensConsentInput | null
}

export class Lens {
  @IsInt() id: number
  @IsString() name: string
  @ValidateNested() @Type(() => LensDevice) device: LensDevice
  @IsOptional() @ValidateNested() @Type(() => LensNetwork) network: LensNetwork | null
  @IsIn(['signed-out', 'cookie', 'form']) visitor: 'signed-out' | 'cookie' | 'form'
  @IsOptional() @IsString() role: string | null
  /** For visitors who sign in by a form: the page it stands on, and where it is sent to. */
  @IsOptional() @IsString() signInPage: string | null
  @IsOptional() @IsString() signInPath: string | null
  @IsIn(['cold', 'warm']) cache: 'cold' | 'warm'
  @IsOptional() @ValidateNested() @Type(() => LensConsentInput) consent: LensConsentInput | null
  /** Sweeps that were made through it; it can't be removed then. */
  @IsInt() sweeps: number
}
