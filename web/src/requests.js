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

  /**
   * The same once what was attempted so before is over: what the first makes, the second changes. The reason stays until
   * somebody does something else.
   */
  attemptInTurn(action) {
    this.trouble = '';
    const before = this.turn;
    this.turn = (async () => {
      await before;
      try {
        await action();
      } catch (error) {
        this.trouble = error.message;
      }
    })();
    return this.turn;
  },
};

/** A field of a row by its dotted name, as `bed.width`. */
export const valueOf = (row, field) => field.split('.').reduce((value, name) => value?.[name], row);

function putValue(row, field, value) {
  const names = field.split('.');
  const last = names.pop();
  names.reduce((inner, name) => (inner[name] ??= {}), row)[last] = value;
}

/**
 * Changes a field of something kept in rows. Where somebody else changed it meanwhile, the row shows what it is now, and
 * what was typed is told with the reason. Other fields stay as they are: somebody may be typing there.
 */
export async function changeField(address, id, change, rows) {
  try {
    return await (await send('POST', `${address}/${id}`, change)).json();
  } catch (error) {
    if (error.status !== 409) throw error;
    const now = await (await send('GET', address)).json();
    const kept = now.find((one) => one.id === id);
    const shown = rows.find((one) => one.id === id);
    if (kept && shown) putValue(shown, change.field, valueOf(kept, change.field));
    throw new Error(`${error.message} You typed “${change.value ?? ''}”.`);
  }
}

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

// How long nothing is said of waiting, and how often it is looked at again.
const UNTOLD_MS = 1500;

// How many requests of this page are not answered.
let open = 0;
let looking = null;

/** What is said to those who wait: how much other work comes first. */
export const waitingWords = (before) => {
  if (before === null) return '';
  if (before === 0) return 'This takes a moment: it is being worked out.';
  return `This takes its turn: ${before === 1 ? 'one other piece of work comes' : `${before} others come`} first.`;
};

/** Says at the foot of the page how much comes before what it waits for, until that is answered. */
async function toldItsPlace(answer) {
  open += 1;
  looking ??= setInterval(sayPlace, UNTOLD_MS);
  try {
    return await answer;
  } finally {
    open -= 1;
    if (open === 0) {
      clearInterval(looking);
      looking = null;
      say('');
    }
  }
}

async function sayPlace() {
  const answer = await fetch('/api/place', { headers: { 'kalotype-page': PAGE } }).catch(() => null);
  const { before = null } = answer?.ok ? await answer.json() : {};
  if (open > 0) say(waitingWords(before));
}

function say(words) {
  const place = globalThis.document?.querySelector('[data-waiting]');
  // What is said already is not read out again.
  if (!place || place.textContent === words) return;
  place.textContent = words;
  // Shown anew, it lies over a dialog that was opened meanwhile.
  if (place.matches(':popover-open')) place.hidePopover();
  if (words !== '') place.showPopover();
}

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
  const response = await toldItsPlace(fetch(address, options));
  if (!response.ok) {
    const said = await response.json().catch(() => ({ message: `The server answered ${response.status}.` }));
    throw new Refused(said, response.status);
  }
  return response;
}
