import type { ErrorRequestHandler } from 'express';
import { refuse } from './respond';

/** What the JSON reader throws, as an error of ours. */
export const badBody: ErrorRequestHandler = (
  error: { type?: string; status?: number; message?: string },
  _request,
  response,
  next,
) => {
  if (response.headersSent) return next(error);
  if (error.type === 'entity.too.large')
    return refuse(
      response,
      {
        code: 'too-large',
        message: 'The body is too large: over 1 MB, or 20 MB for a show file.',
        mend: 'Send less at a time.',
        path: '',
      },
      413,
    );
  if (error.type === 'entity.parse.failed')
    return refuse(
      response,
      { code: 'bad-json', message: 'This is not JSON.', mend: 'Send one JSON object.', path: '' },
      400,
    );
  if (error.type === 'nul')
    return refuse(
      response,
      { code: 'bad-field', message: 'A text holds the character NUL.', mend: 'Leave it out.', path: '' },
      400,
    );
  const status = error.status !== undefined && error.status >= 400 && error.status < 500 ? error.status : 500;
  refuse(
    response,
    {
      code: status === 500 ? 'internal' : 'bad-request',
      message: status === 500 ? 'The request failed inside Umbek.' : (error.message ?? 'The request failed.'),
      mend: status === 500 ? 'Try again; if it stays, report it with the time of day.' : 'Correct the request.',
    },
    status,
  );
};
