import { Controller, Get, HttpCode, Param, Post, Res } from '@nestjs/common'
import { ApiResponse } from '@nestjs/swagger'
import type { Response } from 'express'
import { FilmView } from '@unvelt/contract'
import { Answers } from '../openapi/answers.js'
import { IdPipe } from '../problem/id.pipe.js'
import { ProofService } from '../proof/proof.service.js'
import { FilmService } from './film.service.js'

/** A film never changes. */
const KEPT = 'private, max-age=31536000, immutable'

@Controller()
export class FilmController {
  constructor(
    private readonly proofs: ProofService,
    private readonly films: FilmService,
  ) {}

  @Get('proofs/:proof/pages/:page/film')
  @Answers(FilmView)
  async view(@Param('proof', IdPipe) proof: number, @Param('page', IdPipe) page: number): Promise<FilmView> {
    return this.films.view(await this.proofs.get(proof), page)
  }

  @Post('proofs/:proof/pages/:page/film')
  @HttpCode(202)
  @Answers(FilmView, { status: 202 })
  async start(@Param('proof', IdPipe) proof: number, @Param('page', IdPipe) page: number): Promise<FilmView> {
    return this.films.start(await this.proofs.get(proof), page)
  }

  @Get('films/:film/:side/:n')
  @ApiResponse({ status: 200, description: 'What was painted at that moment, JPEG' })
  async frame(
    @Param('film', IdPipe) film: number,
    @Param('side') side: string,
    @Param('n') n: string,
    @Res() response: Response,
  ): Promise<void> {
    const jpeg = await this.films.frame(film, side, /^\d{1,4}$/.test(n) ? Number(n) : -1)
    response.setHeader('cache-control', KEPT)
    response.type('image/jpeg').send(jpeg)
  }
}
