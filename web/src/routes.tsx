import { createBrowserRouter, Navigate } from 'react-router'
import { AddOnSheetPlace } from './add-ons/add-on-sheet-place.js'
import { AddOnsPlace } from './add-ons/add-ons-place.js'
import { Frame } from './frame/frame.js'
import { LedgerPlace } from './ledger/ledger-place.js'
import { OutsidePlace } from './outside/outside-place.js'
import { PageSheetPlace } from './pages/page-sheet-place.js'
import { PagesPlace } from './pages/pages-place.js'
import { Notice } from './parts/notice.js'
import { PlaceFailed } from './parts/place-failed.js'
import { PreviewPlace } from './preview/preview-place.js'
import { ProofPlace } from './proof/proof-place.js'
import { ProofsPlace } from './proof/proofs-place.js'
import { RehearsalPlace } from './rehearsal/rehearsal-place.js'
import { RulesPlace } from './rules/rules-place.js'
import { TracePlace } from './server-work/trace-place.js'
import { SettingsPlace } from './settings/settings-place.js'
import { FirstSite } from './sites/first-site.js'
import { RegisterSite } from './sites/register-site.js'

export const router = createBrowserRouter([
  { path: '/', Component: FirstSite },
  { path: '/sites/new', Component: RegisterSite },
  {
    path: '/sites/:site',
    Component: Frame,
    children: [
      {
        errorElement: <PlaceFailed />,
        children: [
          { index: true, element: <Navigate to="standing" replace /> },
          // Brings the chart library, which no other place needs.
          {
            path: 'standing',
            lazy: async () => ({ Component: (await import('./standing/standing-place.js')).StandingPlace }),
          },
          { path: 'ledger', Component: LedgerPlace },
          { path: 'add-ons', Component: AddOnsPlace },
          { path: 'add-ons/:slug', Component: AddOnSheetPlace },
          { path: 'pages', Component: PagesPlace },
          { path: 'pages/:page', Component: PageSheetPlace },
          { path: 'pages/traces/:trace', Component: TracePlace },
          { path: 'outside', Component: OutsidePlace },
          { path: 'rules', Component: RulesPlace },
          { path: 'rules/rehearsals/:rehearsal', Component: RehearsalPlace },
          {
            path: 'retirements',
            lazy: async () => ({ Component: (await import('./retirements/retirements-place.js')).RetirementsPlace }),
          },
          {
            path: 'retirements/:retirement',
            lazy: async () => ({ Component: (await import('./retirements/retirement-place.js')).RetirementPlace }),
          },
          {
            path: 'weigh-ins',
            lazy: async () => ({ Component: (await import('./weigh-ins/weigh-ins-place.js')).WeighInsPlace }),
          },
          {
            path: 'weigh-ins/new',
            lazy: async () => ({ Component: (await import('./weigh-ins/new-weigh-in.js')).NewWeighInPlace }),
          },
          {
            path: 'weigh-ins/:weighIn',
            lazy: async () => ({ Component: (await import('./weigh-ins/weigh-in-place.js')).WeighInPlace }),
          },
          { path: 'settings', Component: SettingsPlace },
          { path: 'proof', Component: ProofsPlace },
          { path: 'proof/:proof', Component: ProofPlace },
        ],
      },
    ],
  },
  // The page itself takes all the room there is.
  { path: '/sites/:site/preview', Component: PreviewPlace, errorElement: <PlaceFailed /> },
  { path: '*', element: <Notice title="There is nothing at this address">The link may be old or mistyped.</Notice> },
])
