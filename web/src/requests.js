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

// The words of requests that make something and were not answered yet, by what they ask.
const unanswered = new Map();

/**
 * Sends a request that makes something. Where its answer was lost and the same is asked for again, it is the
 * same request, so that one thing is made.
 */
export async function make(address, body) {
  const asked = JSON.stringify([address, body instanceof Blob ? ofFile(body) : body]);
  const word = unanswered.get(asked) ?? newWord();
  unanswered.set(asked, word);
  const response = await send('POST', address, body, { word });
  unanswered.delete(asked);
  return response;
}

// What a file is known again by without reading it.
const ofFile = ({ name, size, type, lastModified }) => ({ name, size, type, lastModified });

/** A word nobody else has. */
export const newWord = () =>
  Array.from(crypto.getRandomValues(new Uint32Array(4)), (part) => part.toString(36)).join('-');

// The word of this page: of its looks at one thing only the newest is worked out.
const PAGE = newWord();

/**
 * Sends a request; answers the response, or throws `Refused` with the server's own words. A request
 * with a `word` can be sent again: the server carries it out once.
 */
export async function send(method, address, body, { word = null } = {}) {
  const options = {
    method,
    headers: { 'kalotype-page': PAGE },
    signal: AbortSignal.timeout(LONGEST_WAIT_MS),
  };
  if (word !== null) options.headers['kalotype-request'] = word;
  if (body !== undefined) {
    const isFile = typeof body === 'string' || body instanceof Blob;
    options.headers['content-type'] = isFile ? 'application/octet-stream' : 'application/json';
    options.body = isFile ? body : JSON.stringify(body);
  }
  const response = await fetch(address, options);
  if (!response.ok) {
    const said = await response.json().catch(() => ({ message: `The server answered ${response.status}.` }));
    throw new Refused(said, response.status);
  }
  return response;
}
