// Where there is nothing for this visitor: a supporter may type the station's code. It says nothing about whether
// there is anything behind it.
import { useState } from 'react';
import { server, wordsOf } from '../app/server';

export function CodeForm({ slug }: { slug: string }) {
  const [code, setCode] = useState('');
  const [trouble, setTrouble] = useState('');
  const open = async () => {
    try {
      await server.post(`/api/house/${slug}/code`, { code });
      location.reload();
    } catch (error) {
      setTrouble(wordsOf(error));
    }
  };
  return (
    <main className="page narrow pt-5">
      <h1>Nothing here for you yet</h1>
      <p>Check the link that you were given. If you were invited, open the link in your invitation.</p>
      <form
        onSubmit={(event) => {
          event.preventDefault();
          void open();
        }}
      >
        <label htmlFor="code" className="form-label">
          For supporters: your code
        </label>
        <div className="d-flex gap-2">
          <input id="code" className="form-control" autoComplete="off" value={code} onChange={({ target }) => setCode(target.value)} />
          <button className="btn btn-primary" disabled={!code.trim()}>
            Open
          </button>
        </div>
        <p role="alert" className="mt-2">
          {trouble}
        </p>
      </form>
    </main>
  );
}
