// What a person calls themselves in this browser: written beside each run.
const KEY = 'ramblet.who'

export const whoIsThis = (): string => localStorage.getItem(KEY) ?? 'somebody in this browser'
export const callMyself = (name: string): void => localStorage.setItem(KEY, name)
