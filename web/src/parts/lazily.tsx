import { lazy, Suspense, type ComponentType } from 'react'

/** A part that comes when it is first drawn, and not with the place that it may be drawn in. Until then there is nothing. */
export function lazily<Props extends object>(bring: () => Promise<ComponentType<Props>>): ComponentType<Props> {
  const Part = lazy<ComponentType<Props>>(async () => ({ default: await bring() }))
  return function Lazily(props: Props) {
    return (
      <Suspense>
        <Part {...props} />
      </Suspense>
    )
  }
}
