/** Stands in for the arithmetic of colours that the library's button brings for colours of a page's own: no button here has one. */
export class TinyColor {
  constructor() {
    throw new Error('a button takes its colour from its type')
  }
}
