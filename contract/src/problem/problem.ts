import { IsInt, IsOptional, IsString } from 'class-validator'

/** A problem document (RFC 9457). `errors` says where and what was expected. */
export class Problem {
  @IsString() type: string
  @IsInt() status: number
  @IsString() title: string
  @IsOptional() @IsString() detail?: string
  @IsOptional() errors?: { field: string; message: string }[]
}
