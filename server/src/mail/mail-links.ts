// The links in mails with which somebody confirms an address or leaves. They lead to a page with a button.
import { Inject, Injectable } from '@nestjs/common';
import { sameText } from '../foundation/digest';
import { SETTINGS, type Settings } from '../foundation/settings';
import { Vault } from '../foundation/vault';

/** What a link leaves: the reminders of one show, word of all new ones, or what is written to somebody who was invited. */
export type Left = 'reminders' | 'new shows' | 'invitation';

@Injectable()
export class MailLinks {
  constructor(
    private readonly vault: Vault,
    @Inject(SETTINGS) private readonly settings: Settings,
  ) {}

  confirmUrl(secret: string): string {
    return `${this.settings.publicUrl}/reminders/confirm/${secret}`;
  }

  /** Proves itself by a mark, so that it can be written into every mail and is kept nowhere. */
  leaveUrl(left: Left, id: string): string {
    return `${this.settings.publicUrl}/reminders/leave/${id}.${this.markOf(left, id)}`;
  }

  /** Whose link it is; null: it was made for something else, or by somebody else. */
  whoLeaves(left: Left, secret: string): string | null {
    const [id = '', mark = ''] = secret.split('.');
    const right = this.markOf(left, id);
    return sameText(mark, right) ? id : null;
  }

  private markOf(left: Left, id: string): string {
    return this.vault.mark(`leave ${left} ${id}`);
  }
}
