/** Value of a style variable of the page, such as `--rule`: a canvas cannot read them itself. */
export const cssVariable = (name: string) =>
  getComputedStyle(document.documentElement).getPropertyValue(name).trim()
