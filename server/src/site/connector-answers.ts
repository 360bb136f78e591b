import { Type } from 'class-transformer'
import {
  ArrayMaxSize,
  Equals,
  IsArray,
  IsBoolean,
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

/** What a connector may answer. A site is hostile until shown otherwise, so everything is bounded. */
class CmsAnswer {
  @IsString() @Length(1, 100) name: string = ''
  @IsString() @MaxLength(100) version: string = ''
}

class CacheAnswer {
  @IsString() @Length(1, 100) name: string = ''
  @IsBoolean() canPurge: boolean = false
  @IsBoolean() canWarm: boolean = false
}

export class ConnectorDescription {
  @Equals('unvelt-connector/1', { message: 'protocol: expected "unvelt-connector/1"' }) protocol: string = ''
  @IsString() @Length(1, 200) name: string = ''
  @ValidateNested() @Type(() => CmsAnswer) cms: CmsAnswer = new CmsAnswer()
  @Matches(/^(\/[\w.-]+)+$/, { message: 'base: expected a path' }) base: string = ''
  @IsArray() @ArrayMaxSize(100) @IsString({ each: true }) ownHosts: string[] = []
  @IsArray() @ArrayMaxSize(20) @IsString({ each: true }) effects: string[] = []
  @IsArray() @ArrayMaxSize(50) @ValidateNested({ each: true }) @Type(() => CacheAnswer) caches: CacheAnswer[] = []
}

class FileAnswer {
  @Matches(/^(\/|https?:\/\/)/, { message: 'path: expected a path or an http address' }) @MaxLength(2000) path: string =
    ''
  @IsString() @MaxLength(40) type: string = ''
  @IsInt() @Min(0) bytes: number = 0
}

const KINDS = ['plugin', 'widget', 'font', 'outside script', 'theme', 'built-in', 'snippet']

class AddOnAnswer {
  @Matches(/^[a-z0-9][a-z0-9_-]{0,99}$/, { message: 'slug: expected small letters, digits, - and _' }) slug: string = ''
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
}

export class InventoryAnswer {
  @IsArray() @ArrayMaxSize(5000) @ValidateNested({ each: true }) @Type(() => AddOnAnswer) addOns: AddOnAnswer[] = []
}

class PageAnswer {
  @Matches(/^\/[^\s]*$/, { message: 'path: expected a path that begins with /' }) @MaxLength(2000) path: string = ''
  @IsString() @MaxLength(500) title: string = ''
  @IsString() @Length(1, 60) kind: string = ''
  @IsIn(['public', 'office']) area: 'public' | 'office' = 'public'
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
