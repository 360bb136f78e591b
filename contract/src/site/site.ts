import { Type } from '../nested/type.js'
import {
  ArrayMaxSize,
  ArrayNotEmpty,
  IsArray,
  IsBoolean,
  IsDateString,
  IsIn,
  IsInt,
  IsNumber,
  IsOptional,
  IsString,
  Length,
  Max,
  MaxLength,
  Min,
  ValidateNested,
} from 'class-validator'
import { AccessView, AccessWish } from './site-access.js'
import { CertificateView, HostAddress } from './site-way.js'
import { NETS, type Net } from '../deployment/nets.js'
import { QuietTimes } from '../put-off/put-off.js'

/** What the maintainer types to register a site. */
export class SiteRegistration {
  @IsString({ message: 'Please enter the address of the site.' })
  @Length(1, 2000, { message: 'Please enter the address of the site, at most 2000 characters.' })
  address: string

  /** The key of the site's connector. */
  @IsOptional()
  @IsString()
  @MaxLength(500, { message: 'A connector key has at most 500 characters.' })
  connectorKey?: string

  /** Opens this machine's and private addresses to the site. */
  @IsOptional() @IsBoolean() local?: boolean

  /** Where the site is closed to the public. */
  @IsOptional() @ValidateNested() @Type(() => AccessWish) access?: AccessWish

  /** Names that lead elsewhere for this site than DNS says, or that DNS does not know. */
  @IsOptional()
  @IsArray()
  @ArrayMaxSize(20, { message: 'Please enter at most 20 hosts.' })
  @ValidateNested({ each: true })
  @Type(() => HostAddress)
  hosts?: HostAddress[]

  /** Fingerprint (SHA-256) of a certificate that is taken for this site though no browser would take it. */
  @IsOptional() @IsString() @MaxLength(95) certificate?: string

  /** The site has none: its pages are found by its sitemap or its links. */
  @IsOptional() @IsBoolean() withoutConnector?: boolean
}

/** Pages that the maintainer names: paths, or addresses at the site. */
export class NamedPages {
  @IsArray()
  @ArrayNotEmpty({ message: 'Please enter at least one address.' })
  @ArrayMaxSize(500, { message: 'Please enter at most 500 addresses at once.' })
  @IsString({ each: true })
  @MaxLength(2000, { each: true })
  addresses: string[]
}

export class SiteChange {
  @IsOptional() @IsBoolean() local?: boolean
  /** Share of a figure, 0 to 1, below which a difference is too small to matter. */
  @IsOptional() @IsNumber() @Min(0) @Max(1) leastDifference?: number
  /** What comes of a guard that fails once a change is live. */
  @IsOptional() @IsIn(NETS) net?: Net
  /** Hours in which nothing goes live. */
  @IsOptional() @ValidateNested() @Type(() => QuietTimes) quiet?: QuietTimes
  /** By what it lets Unvelt in; null where it is open to all. */
  @IsOptional() @ValidateNested() @Type(() => AccessWish) access?: AccessWish | null
  /** Names that lead elsewhere for this site than DNS says. */
  @IsOptional()
  @IsArray()
  @ArrayMaxSize(20, { message: 'Please enter at most 20 hosts.' })
  @ValidateNested({ each: true })
  @Type(() => HostAddress)
  hosts?: HostAddress[]
  /** Fingerprint of the certificate that is taken for this site; null where it needs one that browsers take. */
  @IsOptional() @IsString() @MaxLength(95) certificate?: string | null
  /** The site that this one is a copy of; null where it is none. */
  @IsOptional() @IsInt() @Min(1) copyOf?: number | null
}

export class SiteCms {
  @IsString() name: string
  @IsString() version: string
}

export class Site {
  @IsInt() id: number
  @IsString() name: string
  /** Origin of the site, without a trailing slash. */
  @IsString() address: string
  /** Whether it may reach this machine and private networks. */
  @IsBoolean() local: boolean
  /** Share of a figure below which a difference is too small to matter. */
  @IsNumber() leastDifference: number
  /** What comes of a guard that fails once a change is live. */
  @IsIn(NETS) net: Net
  /** Hours in which nothing goes live. */
  @ValidateNested() @Type(() => QuietTimes) quiet: QuietTimes
  @ValidateNested() @Type(() => SiteCms) cms: SiteCms
  /** By what it lets Unvelt in; null where it is open to all. */
  @IsOptional() @ValidateNested() @Type(() => AccessView) access: AccessView | null
  /** Names that lead elsewhere for it than DNS says. */
  @ValidateNested({ each: true }) @Type(() => HostAddress) hosts: HostAddress[]
  /** The certificate of its own making that is taken for it. */
  @IsOptional() @ValidateNested() @Type(() => CertificateView) certificate: CertificateView | null
  /** The site that it is a copy of. */
  @IsOptional() @IsInt() copyOf: number | null
  /** Effects that the site can carry out by itself. */
  @IsString({ each: true }) effects: string[]
  /** Whether single files can be asked for first on its pages. */
  @IsBoolean() asksFirst: boolean
  /** Whether the site tells of itself, or is only looked at from outside. */
  @IsBoolean() hasConnector: boolean
  /** Where its pages are known from: `connector`, `sitemap` or `links`. */
  @IsString() pagesFrom: string
  @IsInt() pages: number
  @IsInt() addOns: number
  @IsBoolean() hasReadings: boolean
  @IsDateString() createdAt: string
}
