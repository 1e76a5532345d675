/** Numbers questions, so that an answer can be dropped that comes after a later question was asked:
 * `const current = asked()` before, `if (!current()) return` after. With `signal: current.signal` a
 * request is withdrawn as soon as the next question is asked. */
export function latest() {
  let last = new AbortController()
  return () => {
    last.abort()
    const { signal } = (last = new AbortController())
    return Object.assign(() => !signal.aborted, { signal })
  }
}
