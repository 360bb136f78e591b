/** A failure that the user can do something about: its message is all that is shown. */
export class PlainError extends Error {}

/** Runs a command's main function; ends with exit code 1 and a plain sentence when it fails. */
export async function runMain(main) {
  try {
    await main()
  } catch (error) {
    console.error(error instanceof PlainError ? `\nUnvelt can’t go on: ${error.message}` : error)
    process.exitCode = 1
  }
}
