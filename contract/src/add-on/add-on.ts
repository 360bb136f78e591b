import { IsBoolean, IsInt, IsOptional, IsString } from 'class-validator'

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
}
