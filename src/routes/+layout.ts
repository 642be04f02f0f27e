// Everything a page shows is kept in the browser: there is nothing for the server to render.
export const ssr = false
