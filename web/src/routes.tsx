import { lazy, Suspense, type ComponentType, type ReactNode } from 'react'
import { ErrorBoundary } from 'react-error-boundary'
import { Navigate, Outlet, Route, Routes, useLocation, useOutletContext } from 'react-router'
import { Frame } from './frame/frame.js'
import { Notice } from './parts/notice.js'
import { PlaceFailed } from './parts/place-failed.js'

/** A place comes when it is asked for. */
function place<Name extends string>(name: Name, bring: () => Promise<Record<Name, ComponentType>>): ReactNode {
  const Place = lazy<ComponentType>(async () => ({ default: (await bring())[name] }))
  return <Place />
}

/** Below a site's address, in its frame. */
const OF_A_SITE: [path: string, place: ReactNode][] = [
  ['standing', place('StandingPlace', () => import('./standing/standing-place.js'))],
  ['ledger', place('LedgerPlace', () => import('./ledger/ledger-place.js'))],
  ['add-ons', place('AddOnsPlace', () => import('./add-ons/add-ons-place.js'))],
  ['add-ons/:slug', place('AddOnSheetPlace', () => import('./add-ons/add-on-sheet-place.js'))],
  ['pages', place('PagesPlace', () => import('./pages/pages-place.js'))],
  ['pages/:page', place('PageSheetPlace', () => import('./pages/page-sheet-place.js'))],
  ['pages/traces/:trace', place('TracePlace', () => import('./server-work/trace-place.js'))],
  ['outside', place('OutsidePlace', () => import('./outside/outside-place.js'))],
  ['rules', place('RulesPlace', () => import('./rules/rules-place.js'))],
  ['rules/rehearsals/:rehearsal', place('RehearsalPlace', () => import('./rehearsal/rehearsal-place.js'))],
  ['retirements', place('RetirementsPlace', () => import('./retirements/retirements-place.js'))],
  ['retirements/:retirement', place('RetirementPlace', () => import('./retirements/retirement-place.js'))],
  ['weigh-ins', place('WeighInsPlace', () => import('./weigh-ins/weigh-ins-place.js'))],
  ['weigh-ins/new', place('NewWeighInPlace', () => import('./weigh-ins/new-weigh-in.js'))],
  ['weigh-ins/:weighIn', place('WeighInPlace', () => import('./weigh-ins/weigh-in-place.js'))],
  ['settings', place('SettingsPlace', () => import('./settings/settings-place.js'))],
  ['proof', place('ProofsPlace', () => import('./proof/proofs-place.js'))],
  ['proof/two-sweeps', place('TwoSweepsPlace', () => import('./compare/two-sweeps-place.js'))],
  ['proof/:proof', place('ProofPlace', () => import('./proof/proof-place.js'))],
  ['proof/:proof/hand-over', place('HandOverPlace', () => import('./hand-over/hand-over-place.js'))],
]

const firstSite = place('FirstSite', () => import('./sites/first-site.js'))
const registerSite = place('RegisterSite', () => import('./sites/register-site.js'))
const preview = place('PreviewPlace', () => import('./preview/preview-place.js'))

export const Places = () => (
  // What is not there yet is paper, for the moment that it takes.
  <ErrorBoundary FallbackComponent={PlaceFailed}>
    <Suspense>
      <Routes>
        <Route path="/" element={firstSite} />
        <Route path="/sites/new" element={registerSite} />
        <Route path="/sites/:site" element={<Frame />}>
          <Route element={<CanFail />}>
            <Route index element={<Navigate to="standing" replace />} />
            {OF_A_SITE.map(([path, place]) => (
              <Route key={path} path={path} element={place} />
            ))}
          </Route>
        </Route>
        {/* The page itself takes all the room there is. */}
        <Route element={<CanFail />}>
          <Route path="/sites/:site/preview" element={preview} />
        </Route>
        <Route
          path="*"
          element={<Notice title="There is nothing at this address">The link may be old or mistyped.</Notice>}
        />
      </Routes>
    </Suspense>
  </ErrorBoundary>
)

/** A place that can't be drawn leaves the rest of the frame, and the other places, as they are. */
function CanFail() {
  const { pathname } = useLocation()
  const context = useOutletContext()
  return (
    <ErrorBoundary FallbackComponent={PlaceFailed} resetKeys={[pathname]}>
      <Suspense>
        <Outlet context={context} />
      </Suspense>
    </ErrorBoundary>
  )
}
