// Day or lamp: as the system has it until a person chooses.
const KEY = 'ramblet.theme'

class Theme {
  dark = $state(false)

  start() {
    const chosen = localStorage.getItem(KEY)
    this.dark = chosen ? chosen === 'lamplight' : matchMedia('(prefers-color-scheme: dark)').matches
    this.show()
  }
  toggle() {
    this.dark = !this.dark
    localStorage.setItem(KEY, this.name)
    this.show()
  }
  private get name() {
    return this.dark ? 'lamplight' : 'daylight'
  }
  private show() {
    document.documentElement.dataset['theme'] = this.name
  }
}

export const theme = new Theme()
