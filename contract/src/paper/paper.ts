import { IsDateString, IsIn, IsInt, IsOptional, IsString, Length } from 'class-validator'

/** A document that is whole in itself, to be printed. What it asks others for is not had. */
export class PaperRequest {
  @IsString() @Length(1, 200) title: string
  @IsString() @Length(1, 3_500_000) html: string
}

/** A document that is printed to PDF, or was. */
export class Paper {
  @IsInt() id: number
  @IsString() title: string
  @IsIn(['printing', 'done', 'failed']) state: 'printing' | 'done' | 'failed'
  /** Why it came to nothing, or why nobody prints it yet. */
  @IsOptional() @IsString() why: string | null
  @IsDateString() askedAt: string
}
