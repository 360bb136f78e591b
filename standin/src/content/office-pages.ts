import type { SitePage } from './site-page.js'

const office = (path: string, title: string, lead: string, body: string): SitePage => ({
  path,
  title,
  kind: 'office',
  area: 'office',
  lead,
  body,
  picture: 1,
  roles: ['editor'],
  personal: true,
})

/** The back office: what the editors see, with real data of the CMS. */
export const OFFICE_PAGES: SitePage[] = [
  office('/office', 'Dashboard', 'What happened lately.', '[[office-news]][[office-tally]]'),
  office('/office/content', 'Content', 'Every page, the last changed first.', '[[office-content]]'),
  office('/office/editor', 'Editor', 'Title and first line of a page.', '[[office-editor]]'),
  office('/office/media', 'Media', 'Pictures of the site.', '[[office-media]]'),
  office('/office/add-ons', 'Add-ons', 'What is installed.', '[[office-add-ons]]'),
  office('/office/settings', 'Settings', 'Stored options, by owner.', '[[office-settings]]'),
  office('/office/menus', 'Menus', 'Entries of the site’s menus.', '[[office-menus]]'),
  office('/office/orders', 'Orders', 'Seed to be packed.', '[[orders]]'),
]

const forMembers = (path: string, title: string, picture: number, lead: string, body: string): SitePage => ({
  path,
  title,
  kind: 'members',
  area: 'public',
  lead,
  body,
  picture,
  roles: ['editor', 'member'],
})

/** For people who have signed in. */
export const MEMBERS_PAGES: SitePage[] = [
  forMembers(
    '/members',
    'Members’ area',
    41,
    'Thank you for keeping the trees.',
    '<p>Your card opens the north gate from six in the morning. The seed list is open for orders until the first of March.</p><p><a href="/members/seed-list">The seed list</a> · <a href="/members/minutes">Minutes of the trust</a></p>[[walks limit="6"]]',
  ),
  forMembers(
    '/members/seed-list',
    'The members’ seed list',
    42,
    'Gathered by hand, for members only.',
    '[[shelf]]<table class="sortable"><caption>Rarities</caption><thead><tr><th>Seed</th><th>Gathered</th><th>Packets</th></tr></thead><tbody><tr><td>Handkerchief tree</td><td>October</td><td>12</td></tr><tr><td>Paperbark maple</td><td>September</td><td>30</td></tr><tr><td>Swamp cypress</td><td>November</td><td>8</td></tr></tbody></table>',
  ),
  forMembers(
    '/members/minutes',
    'Minutes of the trust',
    43,
    'What was said, and what was decided.',
    '<p>Present: the registrar, both foresters, nine members. The boathouse roof is to be tarred in May. The proposal for a second seat by the weir was carried.</p>',
  ),
]
