/** How the recorder's messages are told from whatever else a page says to the window around it. */
export const RECORDED = 'unvelt-step'

/** Put first into a page while steps are recorded: tells whoever frames it, and nobody else, what is done there. */
export const recorderScript = (framedBy: string): string =>
  `<script>(${record.toString()})(${JSON.stringify({ to: framedBy, name: RECORDED }).replace(/</g, '\\u003c')})</script>`

/**
 * Runs in the page. An element is named by its role and name where that says which one is meant, as people would, and by
 * other marks of it where it doesn't.
 */
function record({ to, name: message }: { to: string; name: string }): void {
  if (window.parent === window) return
  let expects = false
  const tell = (action: object) => window.parent.postMessage({ [message]: action }, to)
  const clean = (text: string | null | undefined) => (text ?? '').replace(/\s+/g, ' ').trim().slice(0, 100)

  const roleOf = (element: Element): string | null => {
    const said = element.getAttribute('role')?.trim().split(/\s+/)[0]
    if (said) return said
    const type = (element.getAttribute('type') ?? '').toLowerCase()
    switch (element.localName) {
      case 'a':
        return element.hasAttribute('href') ? 'link' : null
      case 'button':
      case 'summary':
        return element.localName === 'button' ? 'button' : null
      case 'select':
        return element.hasAttribute('multiple') ? 'listbox' : 'combobox'
      case 'textarea':
        return 'textbox'
      case 'h1': case 'h2': case 'h3': case 'h4': case 'h5': case 'h6':
        return 'heading'
      case 'img':
        return 'img'
      case 'input':
        if (type === 'checkbox' || type === 'radio') return type
        if (type === 'submit' || type === 'button' || type === 'image' || type === 'reset') return 'button'
        if (type === 'search') return 'searchbox'
        if (type === 'number') return 'spinbutton'
        return ['', 'text', 'email', 'tel', 'url'].includes(type) ? 'textbox' : null
    }
    return null
  } // prettier-ignore

  const nameOf = (element: Element): string => {
    const ids = element.getAttribute('aria-labelledby')?.split(/\s+/) ?? []
    const labelled = clean(ids.map((id) => document.getElementById(id)?.textContent ?? '').join(' '))
    if (labelled) return labelled
    const said = clean(element.getAttribute('aria-label'))
    if (said) return said
    const labels = [...((element as HTMLInputElement).labels ?? [])]
    // What stands within a label's own field is not its name.
    const label = clean(labels.map((each) => [...each.childNodes].filter((node) => !node.contains(element)).map((node) => node.textContent).join('')).join(' ')) // prettier-ignore
    if (label) return label
    if (element.localName === 'input' || element.localName === 'textarea') {
      const field = element as HTMLInputElement
      const isButton = /^(submit|button|reset)$/i.test(field.type)
      return clean((isButton ? field.value : '') || field.title || field.placeholder)
    }
    if (element.localName === 'img') return clean(element.getAttribute('alt'))
    if (element.localName === 'select') return clean(element.getAttribute('title'))
    return clean(element.textContent) || clean(element.querySelector('img[alt]')?.getAttribute('alt')) || clean(element.getAttribute('title')) // prettier-ignore
  }

  const isSeen = (element: Element) => element.getClientRects().length > 0
  const isOnly = (element: Element, all: Iterable<Element>) => {
    for (const one of all) if (one !== element && isSeen(one)) return false
    return true
  }
  const quoted = (text: string) => JSON.stringify(text)

  const placeOf = (element: Element): string => {
    const role = roleOf(element)
    const name = nameOf(element)
    if (role && name && name.length < 100) {
      const alike = [...document.querySelectorAll('a,button,summary,input,select,textarea,img,h1,h2,h3,h4,h5,h6,[role]')]
      if (isOnly(element, alike.filter((one) => roleOf(one) === role && nameOf(one) === name)))
        return `role=${role}[name=${quoted(name)}]`
    } // prettier-ignore
    const form = element.closest('form')
    const tries = [
      element.id && !/\d{3}/.test(element.id) ? `#${CSS.escape(element.id)}` : '',
      element.getAttribute('name') ? `${element.localName}[name=${quoted(element.getAttribute('name')!)}]` : '',
      form?.getAttribute('action') && element.getAttribute('name')
        ? `form[action=${quoted(form.getAttribute('action')!)}] [name=${quoted(element.getAttribute('name')!)}]`
        : '',
      ...[...element.classList].slice(0, 3).map((part) => `${element.localName}.${CSS.escape(part)}`),
    ]
    for (const one of tries) if (one && isOnly(element, document.querySelectorAll(one))) return one
    const steps: string[] = []
    for (let at: Element | null = element; at && at !== document.body && steps.length < 12; at = at.parentElement) {
      if (at !== element && at.id && !/\d{3}/.test(at.id)) {
        steps.unshift(`#${CSS.escape(at.id)}`)
        break
      }
      const same = [...(at.parentElement?.children ?? [])].filter((one) => one.localName === at!.localName)
      steps.unshift(same.length > 1 ? `${at.localName}:nth-of-type(${same.indexOf(at) + 1})` : at.localName)
    }
    return steps.join(' > ').slice(0, 500)
  }

  const pressed = (target: EventTarget | null): Element | null =>
    target instanceof Element
      ? (target.closest('a[href],button,summary,input,select,textarea,label,[role=button],[role=menuitem],[role=tab],[role=link],[aria-expanded]') ?? target)
      : null // prettier-ignore
  /** Whether the form around something changes what the site has. */
  const isSent = (element: Element) =>
    ((element as HTMLButtonElement).formMethod || (element as HTMLButtonElement).form?.method || '') === 'post'
  const isText = (element: Element) =>
    element.localName === 'textarea' ||
    (element.localName === 'input' && !/^(checkbox|radio|submit|button|image|reset|file|hidden|range|color)$/i.test((element as HTMLInputElement).type)) // prettier-ignore

  window.addEventListener(
    'click',
    (event) => {
      if (!event.isTrusted) return
      const direct = event.target instanceof Element ? event.target : null
      if (expects && direct) {
        event.preventDefault()
        event.stopImmediatePropagation()
        const seen = roleOf(direct) ? direct : (direct.closest('a[href],button') ?? direct)
        const text = clean(seen.textContent)
        const at = placeOf(seen)
        // What it is called by says it already.
        const isSaid = at.includes(`[name=${quoted(text)}]`)
        tell({ do: 'expect', at, ...(text && !isSaid && text.length < 100 && { text }) })
        expects = false
        document.documentElement.style.cursor = ''
        return
      }
      const element = pressed(event.target)
      // A press into a field says nothing until something is typed; a label's own press comes again as its field's.
      if (!element || isText(element) || element.localName === 'select' || element.localName === 'label') return
      const isSubmit = /^(submit|image)$/.test((element as HTMLButtonElement).type ?? '')
      tell({ do: 'click', at: placeOf(element), sends: isSubmit && isSent(element) })
    },
    true,
  )
  window.addEventListener(
    'change',
    (event) => {
      const element = event.target
      if (!event.isTrusted || !(element instanceof Element)) return
      // What is secret is none of a recording's business.
      if ((element as HTMLInputElement).type === 'password') return
      if (element.localName === 'select') {
        const chosen = (element as HTMLSelectElement).selectedOptions[0]
        if (chosen) tell({ do: 'choose', at: placeOf(element), text: clean(chosen.label) })
      } else if (isText(element))
        tell({ do: 'type', at: placeOf(element), text: (element as HTMLInputElement).value.slice(0, 500) })
    },
    true,
  )
  window.addEventListener(
    'keydown',
    (event) => {
      const element = event.target
      if (!event.isTrusted || event.key !== 'Enter' || !(element instanceof Element)) return
      if (element.localName !== 'input' || !isText(element)) return
      // The press sends the form before the field says that it has changed.
      const value = (element as HTMLInputElement).value
      if ((element as HTMLInputElement).type !== 'password' && value !== '')
        tell({ do: 'type', at: placeOf(element), text: value.slice(0, 500) })
      tell({ do: 'press', at: placeOf(element), sends: isSent(element) })
    },
    true,
  )
  window.addEventListener('message', (event) => {
    if (event.origin !== to || event.source !== window.parent) return
    expects = (event.data as Record<string, unknown> | null)?.[message] === 'expect'
    document.documentElement.style.cursor = expects ? 'crosshair' : ''
  })
}
