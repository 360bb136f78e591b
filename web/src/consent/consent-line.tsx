import { Link } from 'react-router'
import { useConsent } from '../api/consent.js'
import { consentSentence } from './consent-words.js'

/** What consent costs, where it has been looked at. */
export function ConsentLine({ siteId }: { siteId: number }) {
  const { data } = useConsent(siteId)
  const sentence = data && consentSentence(data)
  if (!sentence) return null
  return (
    <p className="mt-4 max-w-3xl text-[15px]">
      {sentence}{' '}
      <Link to={`/sites/${siteId}/outside#consent`} className="text-verdigris underline underline-offset-2">
        What consent costs
      </Link>
    </p>
  )
}
