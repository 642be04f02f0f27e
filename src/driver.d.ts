/** The database drivers and all that they need as one text, to start threads with: see `scripts/driver-plugin.mjs`. */
declare module 'virtual:driver' {
  export const code: string
}
