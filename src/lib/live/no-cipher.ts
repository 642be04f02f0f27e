// In the place of the ciphers that an encrypted office database would want, and browsers have not: such a file is refused.
const refuse = (): never => {
  throw new Error('It is encrypted: save a copy without a password, and bring that in.')
}
const cipher = Object.assign(refuse, { createDecipheriv: refuse })
export { cipher as default }
