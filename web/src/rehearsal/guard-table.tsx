import type { RehearsedPage } from '@unvelt/contract'
import { GUARD_WORDS } from './guard-words.js'
import { GuardMark } from './guard-mark.js'

interface GuardTableProps {
  each: RehearsedPage[]
  chosen: RehearsedPage | undefined
  onChoose(page: RehearsedPage): void
}

type Guard = keyof typeof GUARD_WORDS
const GUARDS = Object.keys(GUARD_WORDS) as Guard[]

/** Pages under their lenses down, guards across. */
export function GuardTable({ each, chosen, onChoose }: GuardTableProps) {
  return (
    <div
      className="max-h-[44vh] shrink-0 overflow-auto border-b border-line"
      tabIndex={0}
      role="group"
      aria-label="Views"
    >
      <table aria-label="Guards" className="w-full">
        <thead className="sticky top-0 bg-paper">
          <tr className="border-b border-line text-[12.5px] text-soft">
            <th className="w-2/5 py-1.5 pl-4 text-left font-normal">Page</th>
            <th className="pl-2 text-left font-normal">Lens</th>
            {GUARDS.map((guard) => (
              <th
                key={guard}
                title={GUARD_WORDS[guard].looks}
                className="w-[5.5vw] max-w-[68px] min-w-[52px] px-0.5 font-normal"
              >
                {GUARD_WORDS[guard].name}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {each.map((page) => (
            <tr
              key={`${page.pageId} ${page.lensId}`}
              className={`border-b border-line/60 ${page === chosen ? 'bg-wash' : 'hover:bg-wash/50'}`}
            >
              <th className="max-w-0 py-1 pl-4 text-left font-normal">
                <button
                  type="button"
                  aria-current={page === chosen ? 'true' : undefined}
                  onClick={() => onChoose(page)}
                  className="block w-full truncate text-left hover:text-verdigris"
                >
                  <b className="font-semibold">{page.title}</b> <span className="text-soft">{page.path}</span>
                </button>
              </th>
              <td className="max-w-40 truncate px-2 text-soft" title={page.lens}>
                {page.lens.split(',')[0]}
                {/signed in/.test(page.lens) && ', signed in'}
              </td>
              {page.state === 'done' ? (
                GUARDS.map((guard) => {
                  const found = page.guards.find((one) => one.guard === guard)
                  return (
                    <td key={guard} className="text-center">
                      {found && <GuardMark guard={found} />}
                    </td>
                  )
                })
              ) : (
                <td colSpan={GUARDS.length} className={page.state === 'failed' ? 'text-plum' : 'text-soft'}>
                  {page.state === 'failed' ? page.failure : 'to come'}
                </td>
              )}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  )
}
