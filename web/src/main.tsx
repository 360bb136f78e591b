import '@fontsource-variable/source-sans-3'
import '@fontsource-variable/source-serif-4'
import './fonts/fonts.css'
import './look.css'
import { QueryClient, QueryClientProvider } from '@tanstack/react-query'
import { StrictMode } from 'react'
import { createRoot } from 'react-dom/client'
import { RouterProvider } from 'react-router/dom'
import { Toaster } from 'sonner'
import { ApiError } from './api/client.js'
import { applyStoredLook } from './frame/look.js'
import { router } from './routes.js'

applyStoredLook()

const client = new QueryClient({
  defaultOptions: {
    queries: {
      staleTime: 30_000,
      // What the server has refused it will refuse again; only a lost line is worth another try.
      retry: (failures, error) => failures < 2 && error instanceof ApiError && error.status === 0,
      refetchOnWindowFocus: false,
    },
  },
})

createRoot(document.getElementById('root')!).render(
  <StrictMode>
    <QueryClientProvider client={client}>
      <RouterProvider router={router} />
      <Toaster
        position="bottom-center"
        // Above the tray, and above the totals that the ledger ends with.
        offset={{ bottom: 'calc(var(--foot, 0px) + 44px)' }}
        toastOptions={{
          classNames: {
            toast: '!rounded-xs !border-line !bg-sheet !text-ink !shadow-none !font-sans',
            description: '!text-soft',
            actionButton: '!rounded-xs !bg-verdigris !text-on-verdigris !font-medium',
          },
        }}
      />
    </QueryClientProvider>
  </StrictMode>,
)
