import '@fontsource-variable/source-sans-3'
import '@fontsource-variable/source-serif-4'
import './fonts/fonts.css'
import './look.css'
import { QueryClient, QueryClientProvider } from '@tanstack/react-query'
import { StrictMode } from 'react'
import { createRoot } from 'react-dom/client'
import { BrowserRouter } from 'react-router'
import { ApiError } from './api/client.js'
import { applyStoredLook } from './frame/look.js'
import { Toasts } from './frame/toasts.js'
import { fetchToastsLater } from './parts/toast.js'
import { Places } from './routes.js'

applyStoredLook()
fetchToastsLater()

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
      <BrowserRouter>
        <Places />
      </BrowserRouter>
      <Toasts />
    </QueryClientProvider>
  </StrictMode>,
)
