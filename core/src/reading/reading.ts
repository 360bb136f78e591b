import type { Range } from '../idle/byte-ranges.js'

/** What a request was for, by the browser's own resource type. */
export type RequestType =
  'document' | 'script' | 'style' | 'font' | 'picture' | 'media' | 'frame' | 'fetch' | 'ping' | 'socket' | 'other'

/** Why a request was made. `url` is the file that asked; `stack` lists script addresses, innermost call first. */
export interface Initiator {
  type: 'parser' | 'script' | 'redirect' | 'preload' | 'other'
  url?: string
  /** Zero-based line of the tag or call in `url`. */
  line?: number
  /** Innermost first; the first frame is the code that asked. */
  stack?: StackFrame[]
}

export interface StackFrame {
  url: string
  /** Zero-based. */
  line: number
  column: number
}

/** One request as the browser saw it. Times are milliseconds after navigation start; sizes are bytes. */
export interface RequestRecord {
  id: string
  url: string
  method: string
  type: RequestType
  /** Null when no answer came. */
  status: number | null
  mimeType: string
  protocol: string
  priority: string
  startedMs: number
  /** Null while it never ended within the reading. */
  endedMs: number | null
  /** Bytes on the wire, headers included. */
  transferBytes: number
  /** Nobody noted how many bytes came over the wire: the figure is 0 for want of any. */
  sizeUnknown?: true
  /** Bytes of the body after decompression. */
  decodedBytes: number
  fromCache: boolean
  renderBlocking: boolean
  initiator: Initiator
  /** The request that redirected to this one. */
  redirectedFrom?: string
  frameUrl: string
  /** The browser's reason, when the request failed or was blocked. */
  failure?: string
  /** Only the headers that matter: caching, compression, server timing, content type. */
  responseHeaders: Record<string, string>
}

/** A script or style written into the HTML. It is a file of some add-on but not a request. */
export interface InlineCode {
  type: 'script' | 'style'
  elementId: string | null
  /** FNV-1a of the trimmed text, hexadecimal. */
  hash: string
  /** UTF-8 bytes of the code; part of the document's decoded bytes. */
  bytes: number
  /** Zero-based, inclusive lines of the element in the document. */
  startLine: number
  endLine: number
  /** Zero-based columns of the element's beginning and end; readings of earlier versions don't know. */
  startColumn?: number
  endColumn?: number
  /** Ranges in bytes of its text that were run or applied; missing where it is not known. */
  used?: Range[]
  /** The same by the end of the last step. */
  laterUsed?: Range[]
}

export interface ServerTimingEntry {
  name: string
  /** Milliseconds; null when the header gave none. */
  duration: number | null
  description: string
}

/** What of a script or stylesheet was run or applied. */
export interface FileUse {
  requestId: string
  /** Ranges in bytes of the decoded file that were used, in order and without overlap. */
  used: Range[]
}

/** Time that the main thread spent in the code of one address. */
export interface ScriptTime {
  /** Empty where no code of an address was at work. */
  url: string
  /** Zero-based line, for code written into a page, where the address alone says nothing. */
  line: number | null
  /** Zero-based; readings of earlier versions don't know. */
  column?: number
  ms: number
}

/** A typeface that the page's styles declare. */
export interface DeclaredFont {
  family: string
  weight: string
  style: string
  /** Whether anything is drawn with it, so that the browser fetched it. */
  drawn: boolean
}

/** Milliseconds after navigation start; null when the browser reported none. */
export interface PageTimings {
  ttfb: number | null
  firstContentfulPaint: number | null
  largestContentfulPaint: number | null
  domContentLoaded: number | null
  load: number | null
  /** When no request had been under way for the quiet span. */
  quiet: number | null
  /** Sum of what long tasks take beyond 50 ms, between the first paint of content and quiet. */
  totalBlockingTime: number | null
  /** The longest task on the main thread; null where none took 50 ms. */
  longestTask: number | null
  /** When the page answers to touch: the end of the last long task before quiet, at least the first paint of content. */
  answers: number | null
  /** Unitless layout shift. */
  cumulativeLayoutShift: number | null
}

/** What the largest paint showed, where it was a picture. */
export interface LargestPaint {
  url: string
  /** Its tag leaves it until it comes near. */
  lazy: boolean
  /** Its tag asks for it before others. */
  isFirst: boolean
}

/** What was done on the page after its timing, and what that brought. */
export interface StepRecord {
  /** A step's name, or `by itself` for what the page did unasked once it was quiet. */
  name: string
  /** `not there`: the page has nothing of the kind. */
  outcome: 'done' | 'not there' | 'failed'
  /** For a step that failed: why. */
  why?: string
  requests: RequestRecord[]
}

/** Code that runs beside the page, or a connection that stays open. */
export interface Companion {
  kind: 'worker' | 'service worker' | 'socket'
  url: string
}

/** How many elements one call stack has made. */
export interface ElementMaker {
  /** Innermost call first; empty for what came with the HTML. */
  stack: StackFrame[]
  elements: number
  /** How many of them have a size and are drawn; readings of earlier versions don't know. */
  inSight?: number
}

/** How many elements an add-on wrote into the page's HTML, by the site's own word. */
export interface ElementWriter {
  addon: string
  elements: number
}

/** One page loaded once under one lens. */
export interface Reading {
  url: string
  finalUrl: string
  title: string
  requests: RequestRecord[]
  inlineCode: InlineCode[]
  serverTiming: ServerTimingEntry[]
  /** Where the page's own header told nothing of the server, the entries are what its spans tell. */
  serverBySpans?: boolean
  timings: PageTimings
  /** Missing where it was no picture; readings of earlier versions don't know. */
  largestPaint?: LargestPaint
  domElements: number
  /** Scripts and styles of which it is known what was used. */
  fileUse: FileUse[]
  /** Nothing was asked of the browser that slows a page: no use of files, no steps. Times are taken from such readings. */
  clean?: boolean
  /** Taken beside others and without the lens's slowness: none of its times is the page's. */
  untimed?: boolean
  /** After the timing was done; none where no step was taken. Their requests are not among the reading's. */
  steps: StepRecord[]
  /** What was used by the end of the last step, of files of the load and of the steps. */
  laterUse: FileUse[]
  companions: Companion[]
  /** Who made the page's elements; empty where it was not asked. */
  elementMakers: ElementMaker[]
  /** Missing where the site doesn't tell. */
  elementWriters?: ElementWriter[]
  mainThread: ScriptTime[]
  fonts: DeclaredFont[]
  /** The trace that ties it to what the site tells of its own work. */
  traceId: string | null
  /** Version of the live rules the site said it applied, if it said so. */
  rulesVersion: string | null
  consoleErrors: string[]
}
