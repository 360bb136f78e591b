import { Type } from 'class-transformer'
import { IsBoolean, IsDateString, IsInt, IsOptional, IsString, ValidateNested } from 'class-validator'

/** A part of an add-on with its own switch. */
export class AddOnFeature {
  @IsString() slug: string
  @IsString() name: string
  @IsBoolean() on: boolean
  /** In how many pages' content it is used, where the site knows. */
  @IsOptional() @IsInt() uses?: number
}

export class AddOnSetting {
  @IsString() slug: string
  @IsString() name: string
  @IsInt() value: number
  @IsInt() least: number
  @IsInt() most: number
}

export class AddOnTable {
  @IsString() name: string
  @IsInt() rows: number
  @IsInt() bytes: number
  @IsOptional() @IsInt() reclaimableBytes?: number
}

export class AddOnTask {
  @IsString() name: string
  @IsInt() everySeconds: number
}

export class AddOnFile {
  @IsString() path: string
  @IsString() type: string
  @IsInt() bytes: number
}

export class AddOn {
  @IsInt() id: number
  @IsString() slug: string
  @IsString() kind: string
  @IsString() name: string
  @IsOptional() @IsString() version: string | null
  @IsOptional() @IsString() author: string | null
  @IsString() summary: string
  /** Where Unvelt knows it from: the connector, or a reading. */
  @IsString() source: string
  @IsString({ each: true }) needs: string[]
  @IsBoolean() library: boolean
  @IsBoolean() canSkip: boolean
  /** Switched on at the site. */
  @IsBoolean() active: boolean
  @IsOptional() @IsDateString() since: string | null
  /** Versions that the site can install. */
  @IsString({ each: true }) versions: string[]
  @ValidateNested({ each: true }) @Type(() => AddOnFeature) features: AddOnFeature[]
  @ValidateNested({ each: true }) @Type(() => AddOnSetting) settings: AddOnSetting[]
  @ValidateNested({ each: true }) @Type(() => AddOnTable) tables: AddOnTable[]
  @ValidateNested({ each: true }) @Type(() => AddOnTask) tasks: AddOnTask[]
  /** Shows nothing on any page and works all the same: `unseen` always, `once` in the past. */
  @IsOptional() @IsString() works: string | null
  /** How an outsider's tag comes into the page. */
  @IsOptional() @IsString() insertedBy: string | null
  @ValidateNested({ each: true }) @Type(() => AddOnFile) files: AddOnFile[]
  @IsString({ each: true }) outsideHosts: string[]
}
