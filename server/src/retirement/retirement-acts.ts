import type { RetirementAct, RetirementSheet } from '@unvelt/contract'

/** How the log says that something was asked for. */
export const ASKED: Record<RetirementAct, string> = {
  snapshot: 'A snapshot is to be made.',
  off: 'It is to be switched off.',
  on: 'It is to be switched on again.',
  look: 'It is to be looked for what is missed and left.',
  remove: 'It is to be removed.',
  clear: 'What was chosen of its leftovers is to go.',
  restore: 'It is to be put back.',
}

/** What has to be done before something may; null where it may. Ways back are always open. */
export function whyNot(act: RetirementAct, sheet: RetirementSheet): string | null {
  const { steps, isActive, isInstalled, snapshot, wasGone, features } = sheet
  if (features && ['remove', 'clear', 'restore'].includes(act))
    return 'The add-on itself stays; its features are only switched off.'
  const before = (step: RetirementSheet['steps'][number]['step']) => {
    const open = steps
      .slice(
        0,
        steps.findIndex((one) => one.step === step),
      )
      .find(({ state }) => state !== 'done')
    return open ? `First: ${open.why ?? open.step}` : null
  }
  switch (act) {
    case 'snapshot':
      return isInstalled || wasGone ? null : 'The site does not have it any more.'
    case 'off':
      return isActive ? before('off') : 'It is off already.'
    case 'on':
      return isInstalled && !isActive ? null : 'It is not switched off.'
    case 'remove':
      if (!isInstalled) return 'It is removed already.'
      return isActive ? 'First it is switched off.' : before('removal')
    case 'clear':
      return isInstalled ? 'What is left shows once it is removed.' : before('leftovers')
    case 'restore':
      return !snapshot
        ? 'There is no snapshot of it.'
        : isInstalled && isActive
          ? 'It is there, and switched on.'
          : null
    case 'look':
      return null
  }
}
