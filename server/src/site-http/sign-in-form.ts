import { Parser } from 'htmlparser2'

/** A form that signs people in, as a page has it. */
export interface FoundSignInForm {
  /** Absolute address that it is sent to. */
  action: string
  /** What a person fills in, in the page's order. */
  fields: { name: string; label: string; secret: boolean }[]
  /** What the site fills in itself, anew each time the page is made. */
  hidden: Record<string, string>
}

interface Input {
  name: string
  type: string
  value: string
  id: string
  label: string
}

interface Form {
  action: string
  inputs: Input[]
}

const WRITTEN = new Set(['text', 'email', 'tel', 'number', 'password', 'url', 'search', ''])
const MOST_INPUTS = 60
const LONGEST_LABEL = 80

/**
 * The form of a page that asks for one password. One that asks for two is for new members; null where there is none.
 *
 * @param url Address of the page, which the form's own is relative to.
 */
export function signInFormOf(html: string, url: string): FoundSignInForm | null {
  const forms = formsOf(html)
  const passwords = ({ inputs }: Form) => inputs.filter(({ type }) => type === 'password').length
  const form = forms.find((each) => passwords(each) === 1 && URL.canParse(each.action, url))
  if (!form) return null
  // A person presses one button, the first as a rule.
  const [button] = form.inputs.filter(({ type, name }) => type === 'submit' && name !== '')
  const given = form.inputs.filter(({ type, name }) => type === 'hidden' && name !== '')
  return {
    action: new URL(form.action, url).href,
    fields: form.inputs
      .filter(({ type, name }) => WRITTEN.has(type) && name !== '')
      .map(({ name, type, label }) => ({ name, label: label || name, secret: type === 'password' })),
    hidden: Object.fromEntries([...given, ...(button ? [button] : [])].map(({ name, value }) => [name, value])),
  }
}

function formsOf(html: string): Form[] {
  const forms: Form[] = []
  const labels = new Map<string, string>()
  let form: Form | null = null
  let label: { text: string; of: string | undefined; inputs: Input[] } | null = null
  const parser = new Parser({
    onopentag(tag, attributes) {
      if (tag === 'form') forms.push((form = { action: attributes.action ?? '', inputs: [] }))
      else if (tag === 'label') label = { text: '', of: attributes.for, inputs: [] }
      else if ((tag === 'input' || tag === 'button') && form && form.inputs.length < MOST_INPUTS) {
        const { name = '', value = '', id = '' } = attributes
        const type = (attributes.type ?? (tag === 'button' ? 'submit' : 'text')).toLowerCase()
        const input = { name, type, value, id, label: attributes['aria-label'] ?? attributes.placeholder ?? '' }
        form.inputs.push(input)
        label?.inputs.push(input)
      }
    },
    ontext(text) {
      if (label) label.text += text
    },
    onclosetag(tag) {
      if (tag === 'form') form = null
      if (tag !== 'label' || !label) return
      const text = label.text.replace(/\s+/g, ' ').trim().slice(0, LONGEST_LABEL)
      if (label.of !== undefined) labels.set(label.of, text)
      for (const input of label.inputs) input.label = text || input.label
      label = null
    },
  })
  parser.end(html)
  for (const { inputs } of forms)
    for (const input of inputs) if (labels.has(input.id)) input.label = labels.get(input.id) || input.label
  return forms
}
