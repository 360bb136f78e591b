import clsx from 'clsx'
import { DropdownMenu } from 'radix-ui'
import { Link } from 'react-router'
import type { MenuEntry, MenuShape } from './menu.js'

/** What a menu is made of; it opens as soon as it is there. */
export function OpenMenu({ button, entries, align, side = 'bottom', value, onValue, className }: MenuShape) {
  const items = entries.map((entry, n) => <Entry key={n} entry={entry} />)
  return (
    <DropdownMenu.Root defaultOpen>
      <DropdownMenu.Trigger asChild>{button}</DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content
          align={align}
          side={side}
          sideOffset={6}
          className={clsx(
            'z-20 max-h-[min(34rem,var(--radix-dropdown-menu-content-available-height))] overflow-auto border border-line bg-sheet py-1',
            className,
          )}
        >
          {value === undefined ? (
            items
          ) : (
            <DropdownMenu.RadioGroup value={value} {...(onValue && { onValueChange: onValue })}>
              {items}
            </DropdownMenu.RadioGroup>
          )}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  )
}

function Entry({ entry }: { entry: MenuEntry }) {
  if ('line' in entry) return <DropdownMenu.Separator className="my-1 border-t border-line" />
  const look = clsx(
    'block cursor-pointer px-3 py-1.5 outline-none data-highlighted:bg-wash data-[state=checked]:font-semibold',
    entry.isAct && 'text-verdigris',
  )
  const words = (
    <>
      {entry.name}
      {entry.note && <span className="figures block text-[12.5px] font-normal text-soft">{entry.note}</span>}
    </>
  )
  if ('value' in entry)
    return (
      <DropdownMenu.RadioItem value={entry.value} className={look}>
        {words}
      </DropdownMenu.RadioItem>
    )
  if ('checked' in entry)
    return (
      <DropdownMenu.CheckboxItem
        checked={entry.checked}
        onSelect={(event) => event.preventDefault()}
        onCheckedChange={entry.onChecked}
        className="relative cursor-pointer py-1 pr-4 pl-7 outline-none data-highlighted:bg-wash"
      >
        <DropdownMenu.ItemIndicator className="absolute left-2.5 text-verdigris">✓</DropdownMenu.ItemIndicator>
        {words}
      </DropdownMenu.CheckboxItem>
    )
  if ('does' in entry)
    return (
      <DropdownMenu.Item className={look} onSelect={entry.does}>
        {words}
      </DropdownMenu.Item>
    )
  return (
    <DropdownMenu.Item asChild>
      {'to' in entry ? (
        <Link to={entry.to} className={look}>
          {words}
        </Link>
      ) : (
        <a href={entry.saves} download className={look}>
          {words}
        </a>
      )}
    </DropdownMenu.Item>
  )
}
