import type { NowhereFile, NowhereRuleView, Site } from '@unvelt/contract'
import { useNowhereRules } from '../api/nowhere.js'
import { bytes, plural } from '../figures/format.js'
import { address } from '../pages/request-list.js'
import { Button } from '../parts/button.js'
import { download } from '../parts/download.js'
import { Failed, Loading } from '../parts/notice.js'
import { Window } from '../parts/window.js'
import { ServeCleaned } from './serve-cleaned.js'
import { folderOf, KEPT_WORDS, RULE } from './nowhere-words.js'

interface RulesProps {
  site: Site
  file: NowhereFile
  takenAt: string | null
  /** Whether the site serves what was made for it. */
  takesCopies: boolean
  onClose(): void
}

const MOST_SHOWN = 400
const WHATS: Record<NowhereRuleView['what'], string> = {
  selector: '',
  typeface: '@font-face ',
  keyframes: '@keyframes ',
  function: '',
}

/**
 * The rules of a stylesheet that no page and no step has used, those that can go and those that are kept, with the reason; or
 * the functions of a script that never ran.
 */
export function RulesWindow({ site, file, takenAt, takesCopies, onClose }: RulesProps) {
  const { data, error, refetch } = useNowhereRules(site.id, file.n, takenAt)
  const named = address(file.url)
  const isScript = file.type === 'script'
  return (
    <Window
      title={named.file}
      note={`${folderOf(file.url)}, on ${plural(file.pages, 'page')} in ${plural(file.sweeps, 'sweep')}.`}
      width={760}
      onClose={onClose}
    >
      {error && <Failed error={error} retry={() => void refetch()} />}
      {!data && !error && <Loading what="its rules" />}
      {data && (
        <>
          <div
            className="mt-3 max-h-[56dvh] overflow-auto border-y border-line"
            tabIndex={0}
            role="group"
            aria-label={isScript ? 'Functions' : 'Rules'}
          >
            <Rules
              title={isScript ? 'Never ran, and nothing names it' : 'Can go'}
              of={RULE[file.type]}
              rules={data.rules.filter(({ because }) => because === null)}
            />
            <Rules
              title={isScript ? 'Never ran, and may be needed' : 'May be needed, and stays'}
              of={RULE[file.type]}
              rules={data.rules.filter(({ because }) => because !== null)}
            />
          </div>
          {isScript && (
            <p className="mt-4 text-soft">
              Names can be put together while a script runs, so nothing is left out of it. What a function is called
              tells whoever wrote the file what could be split off, or loaded where it is needed.
            </p>
          )}
          {data.cleaned !== null && file.cleanedWire !== null && (
            <div className="mt-4 flex flex-wrap items-center gap-4">
              {takesCopies && file.isCleaned && <ServeCleaned site={site} file={file} />}
              <Button
                weight={takesCopies && file.isCleaned ? undefined : 'main'}
                onClick={() =>
                  download(named.file.replace(/[?#].*/, ''), new Blob([data.cleaned!], { type: 'text/css' }))
                }
              >
                Save the cleaned file
              </Button>
              <span className="basis-full text-soft">
                {bytes(file.wire)} would be {bytes(file.cleanedWire)} as the site packs it; all that stays is as it was,
                letter by letter. Pages that no sweep reads, such as answers to forms, were looked at by nobody: read
                the list.
              </span>
            </div>
          )}
        </>
      )}
    </Window>
  )
}

function Rules({ title, of, rules }: { title: string; of: string; rules: NowhereRuleView[] }) {
  if (rules.length === 0) return null
  return (
    <table className="figures w-full text-[13.5px]">
      <caption className="sticky top-0 bg-sheet py-1.5 text-left font-semibold">
        {title} <span className="font-normal text-soft">{plural(rules.length, of)}</span>
      </caption>
      <tbody>
        {rules.slice(0, MOST_SHOWN).map(({ what, name, line, bytes: weight, because }, n) => (
          <tr key={`${line} ${name} ${n}`} className="border-t border-line/60">
            <td className="w-16 py-1 pr-3 text-right text-soft">{line}</td>
            <td className="py-1 font-mono text-[12.5px] break-all">
              {WHATS[what]}
              {name || <span className="font-sans text-soft">without a name</span>}
            </td>
            <td className="py-1 pl-3 text-[12.5px] text-soft">{because && KEPT_WORDS[because]}</td>
            <td className="py-1 pl-3 text-right whitespace-nowrap">{bytes(weight)}</td>
          </tr>
        ))}
      </tbody>
      {rules.length > MOST_SHOWN && (
        <tfoot>
          <tr>
            <td colSpan={4} className="py-1 text-soft">
              And {plural(rules.length - MOST_SHOWN, of)} more, in the table that can be saved.
            </td>
          </tr>
        </tfoot>
      )}
    </table>
  )
}
