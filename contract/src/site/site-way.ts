import { Type } from '../nested/type.js'
import {
  ArrayMaxSize,
  IsArray,
  IsBoolean,
  IsDateString,
  IsIP,
  IsOptional,
  IsString,
  Matches,
  MaxLength,
  ValidateNested,
} from 'class-validator'

/** SHA-256 over a certificate as it is sent (DER), as browsers show it: 32 pairs of hexadecimal digits with colons between. */
const FINGERPRINT = /^(?:[0-9A-F]{2}:){31}[0-9A-F]{2}$/
/** A host name without a port, in lower case. */
const HOST = /^(?=.{1,253}$)(?:[a-z0-9_](?:[a-z0-9_-]{0,61}[a-z0-9])?\.)*[a-z0-9](?:[a-z0-9-]{0,61}[a-z0-9])?$/

/** A certificate that a site shows, and that nobody whom browsers trust vouches for. */
export class CertificateView {
  @IsString() @Matches(FINGERPRINT) fingerprint: string
  /** Whom it says it is for, and who says so. */
  @IsString() subject: string
  @IsString() issuer: string
  /** Host names that it is for. */
  @IsString({ each: true }) names: string[]
  @IsDateString() validFrom: string
  @IsDateString() validTo: string
  /** Why no browser would take it, as a plain sentence; null where one would. */
  @IsOptional() @IsString() why: string | null
}

/** Where a name leads for one site, as for a copy that no DNS knows of. */
export class HostAddress {
  @Matches(HOST, { message: 'Expected a host name without a port, such as copy.example.org.' })
  host: string

  @IsIP(undefined, { message: 'Expected an IP address, such as 192.0.2.7.' })
  address: string
}

/** Whose certificate is to be shown before a site is registered, or anew afterwards. */
export class CertificateQuestion {
  @IsString({ message: 'Please enter the address of the site.' })
  @MaxLength(2000)
  address: string

  @IsOptional() @IsBoolean() local?: boolean

  @IsOptional()
  @IsArray()
  @ArrayMaxSize(20)
  @ValidateNested({ each: true })
  @Type(() => HostAddress)
  hosts?: HostAddress[]
}
