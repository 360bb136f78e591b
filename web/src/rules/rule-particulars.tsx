import type { UseFormReturn } from 'react-hook-form'
import { isPictureAddress, type Site } from '@unvelt/contract'
import { useRuleParts } from '../api/rule-parts.js'
import { Field } from '../parts/field.js'
import { Lines } from '../parts/lines.js'
import { hostLines, hostsIn, standInWords } from './particular-words.js'
import { ASKED, type RuleValues } from './rule-values.js'

interface RuleParticularsProps {
  site: Site
  form: UseFormReturn<RuleValues>
  values: RuleValues
}

/** What an effect needs to be told beside its name. */
export function RuleParticulars({ site, form, values: { addon, part, effect, content } }: RuleParticularsProps) {
  const { errors } = form.formState
  const isFound = addon !== '' && ((effect === 'hint' && !part.startsWith('file ')) || effect === 'system-font')
  const found = useRuleParts(site.id, isFound ? addon : null)
  switch (effect) {
    case ASKED:
      return (
        <div className="grid grid-cols-2 gap-4">
          <Field
            label="Words in its place"
            hint={`Empty: Load ${addon}`}
            error={errors.words}
            field={form.register('words', { maxLength: { value: 200, message: 'At most 200 characters.' } })}
          />
          <Field
            label="Picture above them"
            hint="A path of the site, or an address; it loads instead, and what it weighs is not in what is predicted"
            error={errors.picture}
            field={form.register('picture', {
              validate: (picture, written) =>
                written.effect !== ASKED ||
                picture.trim() === '' ||
                isPictureAddress(picture.trim()) ||
                'Expected a path that begins with /, or an http or https address.',
            })}
          />
        </div>
      )
    case 'local':
      if (content !== '')
        return (
          <p role="note" className="-mt-1 text-[13.5px] text-soft">
            The cleaned copy comes in the place of the file, as long as the file is what it was made from. When the
            site’s file changes, pages get it as it is.
          </p>
        )
      return (
        <div className="grid grid-cols-2 gap-4">
          <Field
            label="Fetched anew after"
            hint="Days, 1 to 365. Empty: the copy stays as it is, whatever becomes of the file"
            error={errors.refreshDays}
            field={form.register('refreshDays', {
              validate: (days, written) =>
                written.effect !== 'local' ||
                days.trim() === '' ||
                (/^\d{1,3}$/.test(days.trim()) && Number(days) >= 1 && Number(days) <= 365) ||
                'Expected a whole number from 1 to 365.',
            })}
          />
          <Field
            label="Why it may be copied"
            hint="Its licence, or whose word it is: a copy on your host is yours to answer for"
            error={errors.licence}
            field={form.register('licence', { maxLength: { value: 200, message: 'At most 200 characters.' } })}
          />
        </div>
      )
    case 'hint':
      if (part.startsWith('file ')) return null
      return (
        <Lines
          label="Connected to"
          hint={
            found.data && found.data.hosts.length > 0
              ? `Empty: what the last sweep saw it ask: ${hostLines(found.data.hosts).split('\n').join('; ')}`
              : 'An address on each line; behind it fonts, where fonts come from it, or name, where only its name is looked up'
          }
          rows={2}
          error={errors.hosts}
          field={form.register('hosts', {
            validate: (hosts, written) => {
              if (written.effect !== 'hint') return true
              try {
                return hostsIn(hosts).length <= 10 || 'At most ten hosts.'
              } catch (error) {
                return (error as Error).message
              }
            },
          })}
        />
      )
    case 'system-font':
      return (
        <p role="note" className="-mt-1 text-[13.5px] text-soft">
          {found.isPending && 'Looking at its fonts …'}
          {found.isError &&
            `Its fonts can’t be looked at: ${found.error.message} Texts fall to the next of their own families.`}
          {found.data &&
            (found.data.fonts.length === 0
              ? 'None of its fonts could be read, so texts fall to the next of their own families, and may take other room.'
              : `Fitted to take as much room: ${found.data.fonts.map(standInWords).join('; ')}.`)}
        </p>
      )
    default:
      return null
  }
}
