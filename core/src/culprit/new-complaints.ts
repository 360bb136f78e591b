import { isSameComplaint, type Complaint } from './complaint.js'

/** Something that pages complain of and did not before. */
export interface NewComplaint extends Complaint {
  pages: number[]
}

type ByPage = ReadonlyMap<number, readonly Complaint[]>

/** What a page stops by itself when it is left is no news: whether it is heard depends on the moment. */
const isByTheWay = ({ kind, text }: Complaint) => kind === 'requests' && text.endsWith(': cancelled')

/**
 * What pages complain of that they did not complain of before, each thing once with all its pages, the most pages first. Of pages
 * that were not read before nothing is known.
 */
export function newComplaints(now: ByPage, before: ByPage): NewComplaint[] {
  const news: NewComplaint[] = []
  for (const [page, complaints] of now) {
    const known = before.get(page)
    if (!known) continue
    for (const complaint of complaints) {
      if (isByTheWay(complaint) || known.some((one) => isSameComplaint(one, complaint))) continue
      const same = news.find((one) => isSameComplaint(one, complaint))
      if (same) same.pages.push(page)
      else news.push({ ...complaint, pages: [page] })
    }
  }
  return news.sort((a, b) => b.pages.length - a.pages.length)
}
