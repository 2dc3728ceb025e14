// Choices of channels in words.
import type { MessageRule } from '@lantern/core';

export const LANGUAGES = ['en', 'ga', 'cy', 'gd', 'fr', 'de', 'nl', 'es', 'pt', 'it', 'pl', 'uk', 'lt', 'hi', 'bn', 'ar', 'zh', 'ja', 'mi'];
export const languageName = (tag: string): string => new Intl.DisplayNames('en-GB', { type: 'language' }).of(tag) ?? tag;
export const MESSAGE_WORDS: Record<MessageRule, string> = {
  everyone: 'from everyone',
  followers: 'from followers only',
  members: 'from members only',
  off: 'off',
};
