import { useEffect, useRef, useState } from 'react'
import type { Preview } from '@unvelt/contract'

const SIZES = { desk: { width: 1280, height: null }, handset: { width: 390, height: 844 } } as const

interface PreviewFrameProps {
  preview: Preview
  path: string
  /** Another one loads the page anew. */
  time: number
}

/** The page in a window as wide as the device's, made smaller where there is no room for it. */
export function PreviewFrame({ preview, path, time }: PreviewFrameProps) {
  const room = useRef<HTMLDivElement>(null)
  const [space, setSpace] = useState<{ width: number; height: number } | null>(null)
  useEffect(() => {
    const watch = new ResizeObserver(([entry]) => {
      const { width, height } = entry!.contentRect
      setSpace({ width, height })
    })
    watch.observe(room.current!)
    return () => watch.disconnect()
  }, [])
  const { width: wanted, height: most } = SIZES[preview.device]
  const scale = space ? Math.min(1, space.width / wanted) : 1
  const width = preview.device === 'desk' && space ? Math.max(wanted, space.width) : wanted
  const height = space ? Math.min(space.height / scale, most ?? Infinity) : 0
  return (
    <div className="relative min-h-0 min-w-0 bg-wash p-3">
      <div ref={room} className="flex h-full justify-center overflow-hidden">
        {space && (
          <div
            style={{ width: width * scale, height: height * scale }}
            className="shrink-0 overflow-hidden outline outline-line"
          >
            <iframe
              key={time}
              title="The page as it would be"
              src={preview.address + path}
              // It may do what a page may, but for leading this window away.
              sandbox="allow-scripts allow-forms allow-same-origin allow-popups allow-popups-to-escape-sandbox allow-modals allow-downloads"
              referrerPolicy="no-referrer"
              className="origin-top-left border-0 bg-white"
              style={{ width, height, transform: `scale(${scale})` }}
            />
          </div>
        )}
      </div>
      {scale < 0.995 && (
        <span className="figures absolute right-4 bottom-4 bg-sheet px-2 py-0.5 text-[12px] text-soft outline outline-line">
          {wanted} px wide, at {Math.round(scale * 100)} %
        </span>
      )}
    </div>
  )
}
