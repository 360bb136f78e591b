import { Type } from '../nested/type.js'
import {
  ArrayMaxSize,
  Equals,
  IsArray,
  IsBoolean,
  IsDateString,
  IsIn,
  IsInt,
  IsObject,
  IsOptional,
  IsString,
  Length,
  Matches,
  MaxLength,
  Min,
  ValidateNested,
} from 'class-validator'
import { OWN_PATH } from '@unvelt/core'

const SHA384 = /^sha384-[A-Za-z0-9+/]{64}$/
const SLUG = /^[a-z0-9][a-z0-9_-]{0,99}$/

/**
 * What a connector may answer. A site is hostile until shown otherwise, so everything is bounded. The published JSON
 * Schemas in `contract/schemas` are made from these classes.
 */
class CmsAnswer {
  @IsString() @Length(1, 100) name: string = ''
  @IsString() @MaxLength(100) version: string = ''
}

class CacheAnswer {
  @IsString() @Length(1, 100) name: string = ''
  @IsBoolean() canPurge: boolean = false
  @IsBoolean() canWarm: boolean = false
}

/** What the site does with a measuring request. */
class MeasuringAnswer {
  @IsBoolean() bypassesCache: boolean = false
  @IsBoolean() olderRules: boolean = false
  @IsBoolean() serverTiming: boolean = false
  @IsOptional() @IsBoolean() spans?: boolean
  /** Whether a form can be tried: carried out, and all of it taken back. */
  @IsOptional() @IsBoolean() trials?: boolean
  /** Whether it can mark what each add-on prints. */
  @IsOptional() @IsBoolean() marks?: boolean
  /** Whether it can make a page under draft rules that it keeps for a while. */
  @IsOptional() @IsBoolean() drafts?: boolean
  /** Whether such drafts may have add-ons of the shelf with them, and other versions. */
  @IsOptional() @IsBoolean() addOns?: boolean
}

class ActionAnswer {
  @IsString() @Length(1, 100) name: string = ''
  @IsIn(['GET', 'POST']) method: 'GET' | 'POST' = 'GET'
  @Matches(OWN_PATH, { message: 'path: expected a path' }) @MaxLength(2000) path: string = ''
  /** The fields that are sent. */
  @IsOptional() @IsObject() form?: Record<string, string>
  /** In whose role; a visitor's where none is named. */
  @IsOptional() @Matches(SLUG, { message: 'as: expected small letters, digits, - and _' }) as?: string
}

/** What visitors and editors do that makes the server work, as it can be tried. */
export class ActionsAnswer {
  @IsArray() @ArrayMaxSize(100) @ValidateNested({ each: true }) @Type(() => ActionAnswer) actions: ActionAnswer[] = []
}

export class ConnectorDescription {
  @Equals('unvelt-connector/1', { message: 'protocol: expected "unvelt-connector/1"' }) protocol: string = ''
  @IsString() @Length(1, 200) name: string = ''
  @ValidateNested() @Type(() => CmsAnswer) cms: CmsAnswer = new CmsAnswer()
  @Matches(/^(\/[\w.-]+)+$/, { message: 'base: expected a path' }) base: string = ''
  @IsArray() @ArrayMaxSize(100) @IsString({ each: true }) ownHosts: string[] = []
  @IsArray() @ArrayMaxSize(20) @IsString({ each: true }) effects: string[] = []
  @IsArray() @ArrayMaxSize(50) @ValidateNested({ each: true }) @Type(() => CacheAnswer) caches: CacheAnswer[] = []
  @IsOptional() @ValidateNested() @Type(() => MeasuringAnswer) measuring?: MeasuringAnswer
  /** Whether rules may hold single pictures and frames of the pages' own content until they are near. */
  @IsOptional() @IsBoolean() lazyContent?: boolean
  /** `hint` of one file, of `content` too, has it asked for before others. */
  @IsOptional() @IsBoolean() firstFiles?: boolean
  /** The calls it answers, as `METHOD /path`, with `*` for a name. */
  @IsOptional() @IsArray() @ArrayMaxSize(100) @IsString({ each: true }) calls?: string[]
}

class FileAnswer {
  @Matches(/^(\/|https?:\/\/)/, { message: 'path: expected a path or an http address' }) @MaxLength(2000) path: string =
    ''
  @IsString() @MaxLength(40) type: string = ''
  @IsInt() @Min(0) bytes: number = 0
}

class FeatureAnswer {
  @Matches(SLUG, { message: 'slug: expected small letters, digits, - and _' }) slug: string = ''
  @IsString() @Length(1, 200) name: string = ''
  @IsBoolean() on: boolean = false
  /** In how many pages' content it is used, where the site knows. */
  @IsOptional() @IsInt() @Min(0) uses?: number
}

class SettingAnswer {
  @Matches(SLUG, { message: 'slug: expected small letters, digits, - and _' }) slug: string = ''
  @IsString() @Length(1, 200) name: string = ''
  @IsInt() value: number = 0
  @IsInt() least: number = 0
  @IsInt() most: number = 0
  /** Whether a rule can give it another value on some pages. */
  @IsOptional() @IsBoolean() perPage?: boolean
}

class TableAnswer {
  @IsString() @Length(1, 200) name: string = ''
  @IsInt() @Min(0) rows: number = 0
  @IsInt() @Min(0) bytes: number = 0
  /** Space that would come back if the table were written anew. */
  @IsOptional() @IsInt() @Min(0) reclaimableBytes?: number
}

class TaskAnswer {
  @IsString() @Length(1, 200) name: string = ''
  @IsInt() @Min(1) everySeconds: number = 1
}

export const INSERTED_BY = ['its own code', 'the template', 'an injected header', 'a theme switch']
const KINDS = ['plugin', 'widget', 'font', 'outside script', 'theme', 'built-in', 'snippet']

class AddOnAnswer {
  @Matches(SLUG, { message: 'slug: expected small letters, digits, - and _' }) slug: string = ''
  @IsIn(KINDS) kind: string = ''
  @IsString() @Length(1, 200) name: string = ''
  @IsOptional() @IsString() @MaxLength(100) version?: string
  @IsOptional() @IsString() @MaxLength(200) author?: string
  @IsOptional() @IsString() @MaxLength(1000) summary?: string
  @IsArray() @ArrayMaxSize(200) @IsString({ each: true }) needs: string[] = []
  @IsOptional() @IsBoolean() library?: boolean
  @IsOptional() @IsBoolean() canSkip?: boolean
  @IsArray() @ArrayMaxSize(2000) @ValidateNested({ each: true }) @Type(() => FileAnswer) files: FileAnswer[] = []
  @IsOptional() @IsArray() @ArrayMaxSize(200) @IsString({ each: true }) outsideHosts?: string[]
  @IsOptional() @IsArray() @ArrayMaxSize(200) @IsString({ each: true }) inlineIds?: string[]
  /** Switched on; an add-on that is off runs nowhere. */
  @IsOptional() @IsBoolean() active?: boolean
  @IsOptional() @IsDateString() since?: string | null
  /** The versions that can be installed. */
  @IsOptional() @IsArray() @ArrayMaxSize(200) @IsString({ each: true }) versions?: string[]
  @IsOptional()
  @IsArray()
  @ArrayMaxSize(500)
  @ValidateNested({ each: true })
  @Type(() => FeatureAnswer)
  features?: FeatureAnswer[]
  @IsOptional()
  @IsArray()
  @ArrayMaxSize(500)
  @ValidateNested({ each: true })
  @Type(() => SettingAnswer)
  settings?: SettingAnswer[]
  @IsOptional()
  @IsArray()
  @ArrayMaxSize(500)
  @ValidateNested({ each: true })
  @Type(() => TableAnswer)
  tables?: TableAnswer[]
  @IsOptional()
  @IsArray()
  @ArrayMaxSize(500)
  @ValidateNested({ each: true })
  @Type(() => TaskAnswer)
  tasks?: TaskAnswer[]
  /** Shows nothing on any page and works all the same: always, or once. */
  @IsOptional() @IsIn(['unseen', 'once']) works?: 'unseen' | 'once'
  @IsOptional() @IsIn(INSERTED_BY) insertedBy?: string
  /** The jobs it does, in the site's own words: `share buttons`, `visit counter`. */
  @IsOptional() @IsArray() @ArrayMaxSize(20) @Length(1, 60, { each: true }) jobs?: string[]
  /** The blocks that content can use it through; none where it works without. */
  @IsOptional() @IsArray() @ArrayMaxSize(500) @Length(1, 100, { each: true }) blocks?: string[]
}

export class InventoryAnswer {
  @IsArray() @ArrayMaxSize(5000) @ValidateNested({ each: true }) @Type(() => AddOnAnswer) addOns: AddOnAnswer[] = []
}

class PageAnswer {
  @Matches(OWN_PATH, { message: 'path: expected a path that begins with /' }) @MaxLength(2000) path: string = ''
  @IsString() @MaxLength(500) title: string = ''
  @IsString() @Length(1, 60) kind: string = ''
  @IsIn(['public', 'office']) area: 'public' | 'office' = 'public'
  /** Only people who have signed in see it. */
  @IsOptional() @IsBoolean() signedIn?: boolean
  /** The day its words were last changed. */
  @IsOptional() @IsDateString() modified?: string
  /** Page views of people in the last thirty days, where the site counts them. */
  @IsOptional() @IsInt() @Min(0) weight?: number
}

export class PagesAnswer {
  @IsArray() @ArrayMaxSize(1000) @ValidateNested({ each: true }) @Type(() => PageAnswer) pages: PageAnswer[] = []
  @IsOptional() @IsInt() @Min(1) next?: number | null
}

class FolderAnswer {
  @Matches(/^\//, { message: 'prefix: expected a path' }) @MaxLength(500) prefix: string = ''
  @IsIn(['content', 'cms']) payer: string = ''
}

export class AssetsAnswer {
  @IsObject() files: Record<string, string> = {}
  /** Glued file → its parts, in order. */
  @IsOptional() @IsObject() glued?: Record<
    string,
    { path: string; addon: string | null; from: number; bytes: number }[]
  >
  @IsArray() @ArrayMaxSize(200) @ValidateNested({ each: true }) @Type(() => FolderAnswer) folders: FolderAnswer[] = []
}

class PurgedAnswer {
  @IsString() @MaxLength(100) name: string = ''
  @IsInt() @Min(0) purged: number = 0
}

export class PurgeAnswer {
  @IsArray() @ArrayMaxSize(50) @ValidateNested({ each: true }) @Type(() => PurgedAnswer) caches: PurgedAnswer[] = []
}

export class WarmAnswer {
  @IsInt() @Min(0) warmed: number = 0
}

export class VersionAnswer {
  @IsInt() @Min(0) version: number = 0
}

/** Draft rules that the site keeps for a while. */
export class DraftsKeptAnswer {
  @Matches(/^\w{8,64}$/, { message: 'id: expected 8 to 64 letters, digits and _' }) id: string = ''
  @IsDateString() until: string = ''
}

export class DraftsRemovedAnswer {
  @IsString() removed: string = ''
}

class ShelvedAnswer {
  @Matches(SLUG, { message: 'slug: expected small letters, digits, - and _' }) slug: string = ''
  @IsString() @Length(1, 200) name: string = ''
  @IsString() @Length(1, 100) version: string = ''
  @IsString() @MaxLength(100) kind: string = ''
  @IsOptional() @IsString() @MaxLength(200) author?: string
  @IsOptional() @IsString() @MaxLength(2000) summary?: string
}

/** What could be tried on a page: add-ons that are not installed, and other versions of those that are. */
export class ShelfAnswer {
  @IsArray() @ArrayMaxSize(5000) @ValidateNested({ each: true }) @Type(() => ShelvedAnswer) addOns: ShelvedAnswer[] = []
}

class CopyAnswer {
  /** Of the file that it stands in for. */
  @Matches(/^https?:\/\//, { message: 'address: expected an http or https address' })
  @MaxLength(2000)
  address: string = ''
  /** Of its copy on the own host. */
  @Matches(OWN_PATH, { message: 'path: expected a path that begins with /' }) @MaxLength(2000) path: string = ''
  @Matches(SLUG, { message: 'addon: expected the slug of an add-on' }) addon: string = ''
  @IsInt() @Min(0) bytes: number = 0
  /** What the copy is checked against in pages (SRI). */
  @IsOptional()
  @Matches(/^sha(256|384|512)-[A-Za-z0-9+/]+=*$/, { message: 'integrity: expected a hash as SRI writes it' })
  integrity?: string
  @IsDateString() fetched: string = ''
  /** When it was last looked whether the file outside is another one. */
  @IsOptional() @IsDateString() checked?: string
  /** Days after which it is fetched anew; null for never. */
  @IsOptional() @IsInt() @Min(1) refreshDays?: number | null
  /** Why it could not be fetched anew. */
  @IsOptional() @IsString() @MaxLength(500) trouble?: string | null
  /** Of a copy that was given: the hash of the file that it was made from (SRI). */
  @IsOptional() @Matches(SHA384, { message: 'from: expected a hash, sha384-…' }) from?: string
}

/** Where a copy that was given stands. */
export class CopyGivenAnswer {
  @Matches(OWN_PATH, { message: 'path: expected a path that begins with /' }) @MaxLength(2000) path: string = ''
}

/** Copies of files on the own host. */
export class CopiesAnswer {
  @IsArray() @ArrayMaxSize(5000) @ValidateNested({ each: true }) @Type(() => CopyAnswer) copies: CopyAnswer[] = []
}

class UseAnswer {
  @Matches(OWN_PATH, { message: 'path: expected a path that begins with /' }) @MaxLength(2000) path: string = ''
  @Matches(SLUG, { message: 'addon: expected the slug of an add-on' }) addon: string = ''
  @IsOptional() @Matches(SLUG, { message: 'feature: expected the slug of a feature' }) feature?: string
  /** Through what the content uses it: a block, a form, a menu entry. */
  @IsString() @Length(1, 500) through: string = ''
  /** The content is not public yet. */
  @IsOptional() @IsBoolean() planned?: boolean
}

export class UseEvidenceAnswer {
  @IsArray() @ArrayMaxSize(1000) @ValidateNested({ each: true }) @Type(() => UseAnswer) uses: UseAnswer[] = []
  @IsOptional() @IsInt() @Min(1) next?: number | null
}

/** What an add-on is like after it was switched, set or installed. */
export class AddOnStateAnswer {
  @Matches(SLUG, { message: 'slug: expected small letters, digits, - and _' }) slug: string = ''
  @IsString() @MaxLength(100) version: string = ''
  @IsBoolean() active: boolean = false
  @IsArray() @ArrayMaxSize(500) @ValidateNested({ each: true }) @Type(() => FeatureAnswer) features: FeatureAnswer[] =
    []
  @IsArray() @ArrayMaxSize(500) @ValidateNested({ each: true }) @Type(() => SettingAnswer) settings: SettingAnswer[] =
    []
}

export class AddOnRemovedAnswer {
  @Matches(SLUG, { message: 'slug: expected small letters, digits, - and _' }) slug: string = ''
  /** How many tables, options and tasks it left behind. */
  @IsInt() @Min(0) leftovers: number = 0
}

export class ScratchAnswer {
  @Matches(OWN_PATH, { message: 'path: expected a path that begins with /' }) @MaxLength(2000) path: string = ''
  @IsString() @MaxLength(500) title: string = ''
  @IsString() @Length(1, 60) kind: string = ''
  @IsIn(['public', 'office']) area: 'public' | 'office' = 'public'
}

export class ScratchRemovedAnswer {
  @Matches(/^\//, { message: 'removed: expected a path' }) removed: string = ''
}

/** RFC 9457. */
export class ConnectorProblem {
  @IsString() title: string = ''
  @IsInt() @Min(400) status: number = 400
}
