// What is offered on choosing.
export const LANGUAGES = ['en', 'ga', 'cy', 'gd', 'fr', 'de', 'nl', 'es', 'pt', 'it', 'pl', 'uk', 'lt', 'hi', 'bn', 'ar', 'zh', 'ja', 'mi'];
