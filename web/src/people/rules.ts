/** What the server asks of passwords and short codes, said before it has to refuse one. */
export const PASSWORD_LETTERS_MIN = 12
export const CODE_DIGITS = 6
