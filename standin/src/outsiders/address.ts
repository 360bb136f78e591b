/** The origin of an outsider, on the port that the page was asked on. */
export const outside = (host: string, page: URL) => `http://${host}${page.port ? `:${page.port}` : ''}`
