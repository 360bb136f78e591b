import { Body, Controller, HttpCode, Post } from '@nestjs/common'
import { CertificateQuestion, CertificateView } from '@unvelt/contract'
import { Answers } from '../openapi/answers.js'
import { reachOf } from '../reach/reach.js'
import { siteOrigin } from './site-address.js'
import { certificateOf, certificateView, hostsByName } from './site-ways.js'

@Controller('certificates')
export class CertificateController {
  /** The certificate that a site shows, so that somebody can look at it before it is taken. */
  @Post()
  @HttpCode(200)
  @Answers(CertificateView)
  async shown(@Body() { address, local = false, hosts = [] }: CertificateQuestion): Promise<CertificateView> {
    const { why, ...told } = await certificateOf(siteOrigin(address), hostsByName(hosts), reachOf({ local }))
    return certificateView(told, why)
  }
}
