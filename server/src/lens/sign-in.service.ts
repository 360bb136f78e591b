import { Inject, Injectable } from '@nestjs/common'
import type { SignInForm, SignInTrial, SignInTrialRequest } from '@unvelt/contract'
import { CONFIG } from '../config/config.module.js'
import type { Config } from '../config/config.js'
import { ReadingFailure } from '../reading/failure.js'
import { findForm, signIn } from '../site-http/sign-in.js'
import { SiteVisit } from '../site-http/site-visit.js'
import { notFound, ProblemError } from '../problem/problem.error.js'
import { reachOf } from '../reach/reach.js'
import { whyUnreachable } from '../site-http/site-fetch.js'
import { SiteRow } from '../site/site.model.js'
import { LensRow } from './lens.model.js'
import { sealedVisitor } from './sealed-visitor.js'

/** Finds a site's sign-in form, and tries it, before a lens relies on it. */
@Injectable()
export class SignInService {
  constructor(@Inject(CONFIG) private readonly config: Config) {}

  async find(siteId: number, page: string): Promise<SignInForm> {
    const site = await this.site(siteId)
    try {
      const { action, fields, hidden } = await findForm(new SiteVisit(site.address, reachOf(site)), page)
      const { pathname, search } = new URL(action)
      return { page, path: pathname + search, fields, hidden: Object.keys(hidden) }
    } catch (error) {
      const message =
        error instanceof ReadingFailure ? error.message : whyUnreachable(error, new URL(site.address).host)
      throw new ProblemError(422, message, [{ field: 'page', message }])
    }
  }

  async try(siteId: number, { visitor, lensId }: SignInTrialRequest): Promise<SignInTrial> {
    const site = await this.site(siteId)
    // A cookie is only believed when a page is read with it.
    if (visitor.kind !== 'form')
      throw new ProblemError(422, 'Only signing in by the site’s form can be tried.', [
        { field: 'visitor/kind', message: 'Expected form.' },
      ])
    const kept = lensId === undefined ? null : await LensRow.findOne({ where: { siteId, id: lensId } })
    const sealed = sealedVisitor(visitor, this.config.secret, kept?.settings.visitor)
    try {
      const cookies = await signIn(site.address, { visitor: sealed }, this.config.secret, reachOf(site))
      const names = (cookies ?? '').split('; ').map((cookie) => cookie.split('=', 1)[0]!)
      return {
        signedIn: true,
        said: `The site signed the visitor in, with the ${names.length === 1 ? 'cookie' : 'cookies'} ${names.join(', ')}.`,
      }
    } catch (error) {
      if (!(error instanceof ReadingFailure)) throw error
      return { signedIn: false, said: error.message }
    }
  }

  private async site(id: number): Promise<SiteRow> {
    const site = await SiteRow.findByPk(id)
    if (!site) throw notFound('site')
    return site
  }
}
