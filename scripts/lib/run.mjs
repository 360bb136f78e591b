import { spawn } from 'node:child_process'
import { PlainError } from './fail.mjs'

/** Runs a command to its end. With `quiet`, what it says is kept and only shown if it fails. Returns its output. */
export function run(command, args, { quiet = false, cwd, env, uid, gid, input } = {}) {
  return new Promise((resolve, reject) => {
    const child = spawn(command, args, {
      cwd,
      env: env ?? process.env,
      uid,
      gid,
      stdio: [input === undefined ? 'ignore' : 'pipe', quiet ? 'pipe' : 'inherit', quiet ? 'pipe' : 'inherit'],
    })
    let output = ''
    child.stdout?.on('data', (chunk) => (output += chunk))
    child.stderr?.on('data', (chunk) => (output += chunk))
    if (input !== undefined) child.stdin.end(input)
    child.once('error', (error) => reject(new PlainError(`${command} could not be started: ${error.message}`)))
    child.once('exit', (code, signal) => {
      if (code === 0) return resolve(output)
      const said = output.trim().split('\n').slice(-15).join('\n')
      reject(
        new PlainError(`${command} ${args.join(' ')} ended with ${signal ?? `code ${code}`}.${said && `\n${said}`}`),
      )
    })
  })
}
