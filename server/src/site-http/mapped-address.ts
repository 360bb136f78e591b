import { wayTo } from './site-way.js'

/** Where a name leads for the site that has it mapped; undefined where it leads where DNS says. */
export const mappedAddress = async (hostname: string): Promise<string | undefined> =>
  (await wayTo(hostname))?.hosts[hostname]
