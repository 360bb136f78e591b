import { useState } from 'react'
import type { AddOn, Question, Site } from '@unvelt/contract'
import { dateTime } from '../figures/format.js'
import { Button } from '../parts/button.js'
import { AskForm } from './ask-form.js'
import { useChangeAddOn } from './change-add-on.js'

/** Questions to those who would know; each stays open until it is answered. */
export function Questions({ site, addOn, questions }: { site: Site; addOn: AddOn; questions: Question[] }) {
  const change = useChangeAddOn(site.id)
  const [open, setOpen] = useState(false)
  return (
    <section aria-label="Questions" className="mt-6 border-t border-line pt-4">
      <h2 className="text-[17px]">Questions</h2>
      {questions.map((question) => (
        <OneQuestion key={question.id} question={question} onAnswer={(answer) => change.answer(question.id, answer)} />
      ))}
      {open ? (
        <AskForm siteId={site.id} addOn={addOn} onDone={() => setOpen(false)} />
      ) : (
        <Button className="mt-2" onClick={() => setOpen(true)}>
          Ask somebody …
        </Button>
      )}
    </section>
  )
}

function OneQuestion({ question, onAnswer }: { question: Question; onAnswer(answer: string): void }) {
  const [answer, setAnswer] = useState('')
  return (
    <div className="mt-2 border-l-2 border-line pl-3">
      <p>{question.asks}</p>
      <p className="text-[12.5px] text-soft">
        {question.whom && `To ${question.whom}, `}
        {dateTime(question.askedAt)}
      </p>
      {question.answer !== null ? (
        <p className="mt-1 font-medium">{question.answer}</p>
      ) : (
        <form
          className="mt-1 flex gap-2"
          onSubmit={(event) => {
            event.preventDefault()
            if (answer.trim()) onAnswer(answer.trim())
          }}
        >
          <input
            aria-label={`Answer to: ${question.asks}`}
            value={answer}
            placeholder="The answer"
            onChange={(event) => setAnswer(event.target.value)}
            className="h-8 min-w-0 flex-1 border border-line bg-paper px-2"
          />
          <Button type="submit" disabled={!answer.trim()}>
            Answered
          </Button>
        </form>
      )}
    </div>
  )
}
