import clsx from 'clsx'
import type { ButtonHTMLAttributes } from 'react'

interface ButtonProps extends ButtonHTMLAttributes<HTMLButtonElement> {
  weight?: 'main' | 'plain' | 'quiet' | 'danger'
}

const WEIGHTS = {
  main: 'border-verdigris bg-verdigris text-on-verdigris hover:opacity-90 disabled:opacity-45',
  plain:
    'border-verdigris/60 text-verdigris hover:bg-wash disabled:border-line disabled:text-soft disabled:hover:bg-transparent',
  quiet: 'border-transparent text-verdigris hover:bg-wash disabled:text-soft',
  danger: 'border-plum/60 text-plum hover:bg-plum/10 disabled:opacity-45',
}

export function Button({ weight = 'plain', className, type = 'button', ...rest }: ButtonProps) {
  return (
    <button
      type={type}
      className={clsx(
        'inline-flex h-8 items-center justify-center gap-1.5 rounded-xs border px-3 font-medium whitespace-nowrap',
        WEIGHTS[weight],
        className,
      )}
      {...rest}
    />
  )
}
