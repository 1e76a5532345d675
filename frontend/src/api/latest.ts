/** Numbers questions, so that an answer can be dropped that comes after a later
 * question was asked: `const current = asked()` before, `if (!current()) return` after. */
export function latest() {
  let turn = 0
  return () => {
    const mine = ++turn
    return () => mine === turn
  }
}
