import {
  ArrayMaxSize,
  IsArray,
  IsBoolean,
  IsDateString,
  IsIn,
  IsInt,
  IsOptional,
  IsString,
  Matches,
  MaxLength,
} from 'class-validator'

export const PREVIEW_DEVICES = ['desk', 'handset'] as const
export type PreviewDevice = (typeof PREVIEW_DEVICES)[number]
export const PREVIEW_VISITORS = ['signed-out', 'signed-in'] as const
export type PreviewVisitor = (typeof PREVIEW_VISITORS)[number]

/** What a preview is opened with. */
export class PreviewRequest {
  /** As whose visit the page is shown. */
  @IsOptional() @IsIn(PREVIEW_DEVICES) device?: PreviewDevice
}

/** What is changed of an open preview. */
export class PreviewChange {
  /** Drafts that it does without. */
  @IsOptional() @IsArray() @ArrayMaxSize(20_000) @IsString({ each: true }) @MaxLength(40, { each: true }) off?: string[]
  @IsOptional() @IsIn(PREVIEW_DEVICES) device?: PreviewDevice
  /** Whether rules for people who have signed in are taken; a site that applies drafts itself knows who has. */
  @IsOptional() @IsIn(PREVIEW_VISITORS) visitor?: PreviewVisitor
  /** Whether what is done on the page is told to whoever shows it. */
  @IsOptional() @IsBoolean() recording?: boolean
}

/** The real pages as drafts would make them, through a gate of their own and for a short while. */
export class Preview {
  @Matches(/^[a-z0-9]+$/) id: string
  @IsInt() siteId: number
  /** The origin under which the pages are; nobody can guess it. */
  @IsString() address: string
  /** The origin of the window around them, and that of the Unvelt it was opened from. */
  @IsString() window: string
  @IsOptional() @IsString() openedFrom: string | null
  /** What the window shows to be let in; told once, to whoever opened the preview. */
  @IsOptional() @IsString() windowKey?: string
  @IsDateString() expiresAt: string
  @IsString({ each: true }) off: string[]
  @IsIn(PREVIEW_DEVICES) device: PreviewDevice
  @IsIn(PREVIEW_VISITORS) visitor: PreviewVisitor
  @IsBoolean() recording: boolean
  /** Who applies the drafts: the site itself, or core's rewriter in the gate. */
  @IsIn(['site', 'rewriter']) mechanism: 'site' | 'rewriter'
  /** The page that was gone to last, with what the site answered; null until one was. */
  @IsOptional() @IsString() path: string | null
  @IsOptional() @IsInt() status: number | null
}
