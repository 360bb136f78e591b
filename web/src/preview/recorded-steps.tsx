import type { Page, Preview, Site } from '@unvelt/contract'

interface RecordedStepsProps {
  site: Site
  preview: Preview
  path: string
  pages: Page[]
  onRecord(recording: boolean): void
}

export function RecordedSteps(_: RecordedStepsProps) {
  return null
}
