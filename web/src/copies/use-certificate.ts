import { useMutation } from '@tanstack/react-query'
import type { CertificateQuestion, CertificateView } from '@unvelt/contract'
import { call } from '../api/client.js'

/** Asks which certificate a site shows. */
export const useShownCertificate = () =>
  useMutation({
    mutationFn: (question: CertificateQuestion) => call<CertificateView>('POST', '/certificates', question),
  })
