// Runs the tests of the interface. On a machine that stalls for a minute a worker of vitest may not start in time;
// that says nothing of the code, so such a run, and no other, is repeated once.
import { spawn } from 'node:child_process'
import process from 'node:process'

const NOT_STARTED = /\[vitest-pool(-runner)?\]: Timeout/

function run() {
  return new Promise((done) => {
    let said = ''
    const vitest = spawn('npx', ['vitest', 'run', ...process.argv.slice(2)])
    for (const [from, to] of [
      [vitest.stdout, process.stdout],
      [vitest.stderr, process.stderr],
    ])
      from.on('data', (piece) => {
        said += piece
        to.write(piece)
      })
    vitest.on('close', (code) => done({ code, stalled: NOT_STARTED.test(said) }))
  })
}

let { code, stalled } = await run()
if (code && stalled) {
  process.stderr.write('A worker did not start in time; once more.\n')
  ;({ code } = await run())
}
process.exit(code ?? 1)
