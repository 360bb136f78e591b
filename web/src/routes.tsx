import type { ComponentType } from 'react'
import { createBrowserRouter, Navigate } from 'react-router'
import { Frame } from './frame/frame.js'
import { Notice } from './parts/notice.js'
import { PlaceFailed } from './parts/place-failed.js'

/** A place comes when it is asked for. */
const place =
  <Name extends string>(name: Name, bring: () => Promise<Record<Name, ComponentType>>) =>
  async () => ({ Component: (await bring())[name] })

export const router = createBrowserRouter([
  {
    // What is not there yet is paper, for the moment that it takes.
    HydrateFallback: () => null,
    children: [
      { path: '/', lazy: place('FirstSite', () => import('./sites/first-site.js')) },
      { path: '/sites/new', lazy: place('RegisterSite', () => import('./sites/register-site.js')) },
      {
        path: '/sites/:site',
        Component: Frame,
        children: [
          {
            errorElement: <PlaceFailed />,
            children: [
              { index: true, element: <Navigate to="standing" replace /> },
              { path: 'standing', lazy: place('StandingPlace', () => import('./standing/standing-place.js')) },
              { path: 'ledger', lazy: place('LedgerPlace', () => import('./ledger/ledger-place.js')) },
              { path: 'add-ons', lazy: place('AddOnsPlace', () => import('./add-ons/add-ons-place.js')) },
              {
                path: 'add-ons/:slug',
                lazy: place('AddOnSheetPlace', () => import('./add-ons/add-on-sheet-place.js')),
              },
              { path: 'pages', lazy: place('PagesPlace', () => import('./pages/pages-place.js')) },
              { path: 'pages/:page', lazy: place('PageSheetPlace', () => import('./pages/page-sheet-place.js')) },
              { path: 'pages/traces/:trace', lazy: place('TracePlace', () => import('./server-work/trace-place.js')) },
              { path: 'outside', lazy: place('OutsidePlace', () => import('./outside/outside-place.js')) },
              { path: 'rules', lazy: place('RulesPlace', () => import('./rules/rules-place.js')) },
              {
                path: 'rules/rehearsals/:rehearsal',
                lazy: place('RehearsalPlace', () => import('./rehearsal/rehearsal-place.js')),
              },
              {
                path: 'retirements',
                lazy: place('RetirementsPlace', () => import('./retirements/retirements-place.js')),
              },
              {
                path: 'retirements/:retirement',
                lazy: place('RetirementPlace', () => import('./retirements/retirement-place.js')),
              },
              { path: 'weigh-ins', lazy: place('WeighInsPlace', () => import('./weigh-ins/weigh-ins-place.js')) },
              { path: 'weigh-ins/new', lazy: place('NewWeighInPlace', () => import('./weigh-ins/new-weigh-in.js')) },
              {
                path: 'weigh-ins/:weighIn',
                lazy: place('WeighInPlace', () => import('./weigh-ins/weigh-in-place.js')),
              },
              { path: 'settings', lazy: place('SettingsPlace', () => import('./settings/settings-place.js')) },
              { path: 'proof', lazy: place('ProofsPlace', () => import('./proof/proofs-place.js')) },
              {
                path: 'proof/two-sweeps',
                lazy: place('TwoSweepsPlace', () => import('./compare/two-sweeps-place.js')),
              },
              { path: 'proof/:proof', lazy: place('ProofPlace', () => import('./proof/proof-place.js')) },
              {
                path: 'proof/:proof/hand-over',
                lazy: place('HandOverPlace', () => import('./hand-over/hand-over-place.js')),
              },
            ],
          },
        ],
      },
      // The page itself takes all the room there is.
      {
        path: '/sites/:site/preview',
        lazy: place('PreviewPlace', () => import('./preview/preview-place.js')),
        errorElement: <PlaceFailed />,
      },
      {
        path: '*',
        element: <Notice title="There is nothing at this address">The link may be old or mistyped.</Notice>,
      },
    ],
  },
])
