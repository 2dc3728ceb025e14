// Where parts of pages are rendered: a page without a picture, with what browsers have and jsdom does not.
const { default: Page } = require('jest-environment-jsdom'); // eslint-disable-line @typescript-eslint/no-require-imports -- read by Jest itself
module.exports = class extends Page {
  async setup() {
    await super.setup();
    Object.assign(this.global, { TextEncoder, TextDecoder });
    this.global.AbortSignal.timeout ??= () => new this.global.AbortController().signal;
    this.global.Element.prototype.scrollIntoView = () => undefined;
  }
};
