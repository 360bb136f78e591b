import { QueryTypes, type Sequelize } from 'sequelize'
import type { AnswerInput, Question, QuestionInput, Verdict, VerdictInput } from '@unvelt/contract'

type Stored<T> = Omit<T, 'at'> & { slug: string; at: Date }
const view = ({ verdict, why, who, at }: Stored<Verdict>): Verdict => ({ verdict, why, who, at: at.toISOString() })

/** Slug → the verdict that holds. */
export async function verdictsOf(sequelize: Sequelize, siteId: number): Promise<Map<string, Verdict>> {
  const rows = await sequelize.query<Stored<Verdict>>(
    'select distinct on (slug) slug, verdict, why, who, at from verdict where site_id = :siteId order by slug, id desc',
    { replacements: { siteId }, type: QueryTypes.SELECT },
  )
  return new Map(rows.map((row) => [row.slug, view(row)]))
}

/** Every verdict there was on an add-on, newest first. */
export async function verdictHistory(sequelize: Sequelize, siteId: number, slug: string): Promise<Verdict[]> {
  const rows = await sequelize.query<Stored<Verdict>>(
    'select slug, verdict, why, who, at from verdict where site_id = :siteId and slug = :slug order by id desc',
    { replacements: { siteId, slug }, type: QueryTypes.SELECT },
  )
  return rows.map(view)
}

export async function decide(
  sequelize: Sequelize,
  siteId: number,
  slug: string,
  { verdict, why, who }: VerdictInput,
): Promise<void> {
  await sequelize.query('insert into verdict (site_id, slug, verdict, why, who) values ($1, $2, $3, $4, $5)', {
    bind: [siteId, slug, verdict, why, who],
  })
}

/** Takes the newest verdict back; what held before holds again. */
export async function takeVerdictBack(sequelize: Sequelize, siteId: number, slug: string): Promise<void> {
  await sequelize.query(
    'delete from verdict where id = (select max(id) from verdict where site_id = $1 and slug = $2)',
    { bind: [siteId, slug] },
  )
}

const QUESTION = `id, slug, asks, whom, asked_at "askedAt", answer, answered_at "answeredAt"`

export function questionsOf(sequelize: Sequelize, siteId: number, slug?: string): Promise<Question[]> {
  return sequelize.query<Question>(
    `select ${QUESTION} from question where site_id = :siteId ${slug === undefined ? '' : 'and slug = :slug'}
     order by answered_at is not null, id desc`,
    { replacements: { siteId, slug: slug ?? null }, type: QueryTypes.SELECT },
  )
}

/** Slug → how many questions wait for an answer. */
export async function openQuestionsOf(sequelize: Sequelize, siteId: number): Promise<Map<string, number>> {
  const rows = await sequelize.query<{ slug: string; open: number }>(
    'select slug, count(*)::int "open" from question where site_id = :siteId and answer is null group by slug',
    { replacements: { siteId }, type: QueryTypes.SELECT },
  )
  return new Map(rows.map(({ slug, open }) => [slug, open]))
}

export async function ask(
  sequelize: Sequelize,
  siteId: number,
  slug: string,
  { asks, whom }: QuestionInput,
): Promise<void> {
  await sequelize.query('insert into question (site_id, slug, asks, whom) values ($1, $2, $3, $4)', {
    bind: [siteId, slug, asks, whom],
  })
}

/** @returns whether there was such a question */
export async function answer(
  sequelize: Sequelize,
  siteId: number,
  id: number,
  { answer: said }: AnswerInput,
): Promise<boolean> {
  const changed = await sequelize.query<{ id: number }>(
    'update question set answer = :said, answered_at = now() where site_id = :siteId and id = :id returning id',
    { replacements: { siteId, id, said }, type: QueryTypes.SELECT },
  )
  return changed.length > 0
}

export async function dropQuestion(sequelize: Sequelize, siteId: number, id: number): Promise<void> {
  await sequelize.query('delete from question where site_id = $1 and id = $2', { bind: [siteId, id] })
}
