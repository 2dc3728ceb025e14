// The operator's page: sets faults. For demonstrations and tests; the stand-ins listen on this machine only.
import { Body, Controller, Get, Header, HttpCode, Post, Res } from '@nestjs/common';
import { ApiExcludeController } from '@nestjs/swagger';
import type { Response } from 'express';
import type { Network } from './entities';
import { FAULT_WORDS, FAULTS, Faults, type Fault } from './faults';
import { Ingest } from './ingest';
import { networkPage, NETWORK_LOOKS } from './pages';
import { Refusal } from './refusal';

@ApiExcludeController()
@Controller('operator')
export class OperatorController {
  constructor(
    private readonly faults: Faults,
    private readonly ingest: Ingest,
  ) {}

  @Get()
  @Header('content-type', 'text/html; charset=utf-8')
  page(): string {
    const row = (network: Network) => `<tr><th>${NETWORK_LOOKS[network].name}</th><td><form method="post" action="/operator/faults">
      <input type="hidden" name="network" value="${network}"><select name="fault" onchange="this.form.submit()">${FAULTS.map(
        (fault) => `<option value="${fault}"${this.faults.of(network) === fault ? ' selected' : ''}>${FAULT_WORDS[fault]}</option>`,
      ).join('')}</select></form></td><td><form method="post" action="/operator/drop"><input type="hidden" name="network" value="${network}">
      <button class="quiet">Hang up on every encoder</button></form></td></tr>`;
    return networkPage('reelmoor', 'Operator', `<h1>Trouble on demand</h1><table>${row('reelmoor')}${row('townfold')}</table>`);
  }

  @Post('faults')
  @HttpCode(200)
  set(@Body() body: { network?: string; fault?: string }, @Res() response: Response): void {
    const network = this.network(body.network);
    if (!FAULTS.includes(body.fault as Fault)) throw new Refusal(400, 'unknown-fault', `Faults are: ${FAULTS.join(', ')}.`);
    this.faults.set(network, body.fault as Fault);
    if (body.fault === 'down' || body.fault === 'refuse') this.ingest.drop({ network });
    response.redirect(303, '/operator');
  }

  @Post('drop')
  @HttpCode(200)
  drop(@Body() body: { network?: string }, @Res() response: Response): void {
    this.ingest.drop({ network: this.network(body.network) });
    response.redirect(303, '/operator');
  }

  private network(name: string | undefined): Network {
    if (name !== 'reelmoor' && name !== 'townfold') throw new Refusal(404, 'unknown-network', 'There is no such network.');
    return name;
  }
}
