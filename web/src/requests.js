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

/** Sends a request; answers the response, or throws `Refused` with the server's own words. */
export async function send(method, address, body) {
  const options = { method };
  if (body !== undefined) {
    options.headers = { 'content-type': 'application/json' };
    options.body = typeof body === 'string' || body instanceof Blob ? body : JSON.stringify(body);
  }
  const response = await fetch(address, options);
  if (!response.ok) {
    const said = await response.json().catch(() => ({ message: `The server answered ${response.status}.` }));
    throw new Refused(said, response.status);
  }
  return response;
}
