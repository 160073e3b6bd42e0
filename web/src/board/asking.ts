import { ElMessageBox } from 'element-plus'

/** A few words somebody must give before something is done; empty where it is not done after all. */
export async function askedFor(
  question: string,
  title: string,
  [yes, no]: readonly [string, string],
): Promise<string> {
  const given = await ElMessageBox.prompt(question, title, {
    confirmButtonText: yes,
    cancelButtonText: no,
    inputPattern: /\S/,
    inputErrorMessage: 'A few words are enough.',
  }).then(
    (box) => (box as { value: string }).value,
    () => '',
  )
  return given
}
