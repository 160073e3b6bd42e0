/** What went wrong, in the server's words. */
export interface Problem {
  code: string
  sentence: string
}

/** Anything thrown or refused, as a problem with a sentence that can be shown. */
export function toProblem(fault: unknown, status = 0): Problem {
  if (fault && typeof fault === 'object' && 'sentence' in fault && 'code' in fault) return fault as Problem
  if (status === 413) return { code: 'too_large', sentence: 'The file is too large. Split the recording.' }
  if (status >= 500)
    return {
      code: 'server_fault',
      sentence: 'Something went wrong in the program. Nothing was stored. Try again.',
    }
  return { code: 'unreachable', sentence: 'The server did not answer. Check that it runs, then try again.' }
}
