import { spawn } from 'node:child_process'
import { ROOT } from './workspace.mjs'

/** Starts one of our own programs in the background; its lines are shown behind its name unless it is quiet. */
export function startChild(name, script, env, { quiet = false, user = {} } = {}) {
  const child = spawn(process.execPath, ['--enable-source-maps', script], {
    cwd: ROOT,
    ...user,
    env: { ...process.env, ...env },
    stdio: ['ignore', 'pipe', 'pipe'],
    // A group of its own, so that Ctrl-C ends things in order.
    detached: true,
  })
  let said = ''
  const hear = (chunk) => {
    said = (said + chunk).slice(-4000)
    if (!quiet) for (const line of String(chunk).trimEnd().split('\n')) console.log(`  ${name}: ${line}`)
  }
  child.stdout.on('data', hear)
  child.stderr.on('data', hear)
  let over = false
  const ended = new Promise((resolve) => child.once('exit', (code, signal) => resolve({ code, signal })))
  void ended.then(() => (over = true))
  return {
    name,
    pid: child.pid,
    ended,
    said: () => said.trim(),
    isOver: () => over,
    async stop() {
      if (!over) child.kill('SIGTERM')
      const late = setTimeout(() => child.kill('SIGKILL'), 10_000)
      await ended
      clearTimeout(late)
    },
  }
}
