import { Type } from '../nested/type.js'
import { IsArray, IsBoolean, IsInt, IsOptional, IsString, Matches, MaxLength, ValidateNested } from 'class-validator'
import { OWN_PATH } from '@unvelt/core'
import { LensVisitor } from './lens.js'

export class SignInPage {
  /** The page of the site that the sign-in form stands on. */
  @IsString()
  @MaxLength(2000)
  @Matches(OWN_PATH, { message: 'page: expected a path of the site, such as /sign-in' })
  page: string
}

/** One field that a person fills in. */
export class SignInField {
  @IsString() name: string
  /** What stands beside it on the page. */
  @IsString() label: string
  /** Whether it is a password, so that nobody is shown it. */
  @IsBoolean() secret: boolean
}

/** The sign-in form of a page, as it was found. */
export class SignInForm {
  @IsString() page: string
  /** Path that it is sent to. */
  @IsString() path: string
  @IsArray() @ValidateNested({ each: true }) @Type(() => SignInField) fields: SignInField[]
  /** Names of fields that the site fills in itself; they are read anew at each sign-in. */
  @IsArray() @IsString({ each: true }) hidden: string[]
}

/** Signs in once, to see whether it works. */
export class SignInTrialRequest {
  @ValidateNested() @Type(() => LensVisitor) visitor: LensVisitor
  /** The lens whose kept values stand for those that are not entered. */
  @IsOptional() @IsInt() lensId?: number
}

export class SignInTrial {
  @IsBoolean() signedIn: boolean
  /** A sentence: what the site answered. */
  @IsString() said: string
}
