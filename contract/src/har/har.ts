import { IsInt, IsString } from 'class-validator'

/** What came of a HAR file. */
export class HarImport {
  @IsInt() sweepId: number
  @IsInt() pages: number
  @IsInt() requests: number
  /** Addresses of pages in the file that are none of the site's; they were left out. */
  @IsString({ each: true }) strange: string[]
}
