/** What the server refused, with the field it concerns. */
export class Refused extends Error {
  constructor({ message, target = '', field = '' }, status) {
    super(message);
    this.target = target;
    this.field = field;
    this.status = status;
  }
}

/** For a page that shows in one place why something was refused. */
export const attempting = {
  trouble: '',

  /** Runs something that may be refused and shows the reason. */
  async attempt(action) {
    try {
      this.trouble = '';
      await action();
    } catch (error) {
      this.trouble = error.message;
    }
  },
};

// The server gives up before this.
const LONGEST_WAIT_MS = 60_000;

/**
 * Sends a request; answers the response, or throws `Refused` with the server's own words. A request
 * with a `word` can be sent again: the server carries it out once.
 */
export async function send(method, address, body, { word = null } = {}) {
  const options = { method, headers: {}, signal: AbortSignal.timeout(LONGEST_WAIT_MS) };
  if (word !== null) options.headers['kalotype-request'] = word;
  if (body !== undefined) {
    options.headers['content-type'] = 'application/json';
    options.body = typeof body === 'string' || body instanceof Blob ? body : JSON.stringify(body);
  }
  const response = await fetch(address, options);
  if (!response.ok) {
    const said = await response.json().catch(() => ({ message: `The server answered ${response.status}.` }));
    throw new Refused(said, response.status);
  }
  return response;
}
