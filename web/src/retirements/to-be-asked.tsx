import { useState } from 'react'
import { Link } from 'react-router'
import type { RetireQuestionView } from '@unvelt/contract'
import { AskForm } from '../add-ons/ask-form.js'
import { Button } from '../parts/button.js'
import { questionWords } from './retirement-words.js'

/** What has a reason to go and may not be taken off unasked; each can be asked about on the spot. */
export function ToBeAsked({ siteId, questions }: { siteId: number; questions: RetireQuestionView[] }) {
  const [asking, setAsking] = useState<string | null>(null)
  if (questions.length === 0) return null
  return (
    <section aria-label="To be asked first" className="border-t border-line pb-3">
      <h2 className="px-4 pt-4 pb-1 text-[17px]">To be asked first</h2>
      <ul>
        {questions.map((question) => (
          <li key={question.addon} className="border-t border-line/60 px-4 py-1">
            <div className="flex items-center gap-3">
              <span className="min-w-0 flex-1">
                <Link
                  to={`/sites/${siteId}/add-ons/${encodeURIComponent(question.addon)}`}
                  className="font-semibold hover:underline"
                >
                  {question.name}
                </Link>{' '}
                <span className="text-soft">{questionWords(question)}</span>
              </span>
              <Button
                weight="quiet"
                aria-label={`Ask about ${question.name}`}
                aria-expanded={asking === question.addon}
                onClick={() => setAsking(asking === question.addon ? null : question.addon)}
              >
                Ask …
              </Button>
            </div>
            {asking === question.addon && (
              <div className="max-w-xl pb-2">
                <AskForm
                  siteId={siteId}
                  addOn={{ slug: question.addon, name: question.name }}
                  asks={`Does anybody still need ${question.name}?`}
                  onDone={() => setAsking(null)}
                />
              </div>
            )}
          </li>
        ))}
      </ul>
    </section>
  )
}
