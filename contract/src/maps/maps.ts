import { ValidateBy } from 'class-validator'

const isPlain = (value: unknown): value is Record<string, unknown> =>
  typeof value === 'object' && value !== null && !Array.isArray(value)

/** Names to what each is worth; the server's API description knows these decorators by their names. */
const mapOf = (name: string, words: string, fits: (value: unknown) => boolean) => () =>
  ValidateBy({
    name,
    validator: {
      validate: (value: unknown) => isPlain(value) && Object.values(value).every(fits),
      defaultMessage: () => `$property: expected ${words}`,
    },
  })

export const IsFigures = mapOf(
  'isFigures',
  'a number for each name',
  (value) => value === null || typeof value === 'number',
)
export const IsFigureLists = mapOf('isFigureLists', 'numbers for each name', Array.isArray)
export const IsTexts = mapOf('isTexts', 'a text for each name', (value) => typeof value === 'string')
export const IsProofFigures = mapOf('isProofFigures', 'a figure for each name', isPlain)
export const IsProofFigureLists = mapOf('isProofFigureLists', 'figures for each name', Array.isArray)
