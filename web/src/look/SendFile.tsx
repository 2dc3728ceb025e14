// A button that sends a file as long as it takes, with how much of it is sent and a way to stop.
import { useState, type ReactNode } from 'react';
import { Button, ProgressBar } from 'react-bootstrap';

interface Props<Reply> {
  /** What the button says. */
  children: ReactNode;
  /** What kind of file, as “film”. */
  what: string;
  accept: string;
  mostBytes: number;
  method: 'PUT' | 'POST';
  /** Where it is sent to, by its name. */
  path: (name: string) => string;
  onStored: (reply: Reply) => void;
  /** What went wrong, in words; empty when something is tried again. */
  onTrouble: (words: string) => void;
  /** What else can be done while nothing is sent. */
  beside?: ReactNode;
}

export function SendFile<Reply>({ children, what, accept, mostBytes, method, path, onStored, onTrouble, beside }: Props<Reply>) {
  const [sent, setSent] = useState<number | null>(null);
  const [request, setRequest] = useState<XMLHttpRequest | null>(null);
  const take = (file: File) => {
    onTrouble('');
    if (file.size > mostBytes) return onTrouble(`${file.name} weighs ${Math.round(file.size / 1e6)} MB. Choose a ${what} of at most ${mostBytes / 1e6} MB.`);
    // fetch tells nothing of how far a body has been sent.
    const sending = new XMLHttpRequest();
    sending.open(method, path(file.name));
    sending.setRequestHeader('content-type', 'application/octet-stream');
    sending.upload.onprogress = ({ loaded, total }) => setSent(Math.round((100 * loaded) / total));
    sending.onloadend = () => {
      setSent(null);
      setRequest(null);
      if (sending.status === 200 || sending.status === 201) onStored(JSON.parse(sending.responseText) as Reply);
      else if (sending.status > 0) onTrouble(wordsIn(sending.responseText) ?? `The ${what} could not be kept. Try again.`);
    };
    sending.onerror = () => onTrouble(`The ${what} could not be sent. Check that the server runs, then try again.`);
    setSent(0);
    setRequest(sending);
    sending.send(file);
  };
  if (sent !== null) {
    return (
      <div className="d-flex gap-3 align-items-center">
        <ProgressBar now={sent} label={`${sent} %`} className="flex-grow-1" aria-label={`How much of the ${what} is sent`} />
        <Button variant="quiet" size="sm" onClick={() => request?.abort()}>
          Stop sending
        </Button>
      </div>
    );
  }
  return (
    <span className="button-row small-words">
      <label className="btn btn-quiet btn-sm file-button">
        <input
          type="file"
          className="visually-hidden"
          accept={accept}
          onChange={({ target }) => {
            const file = target.files?.[0];
            target.value = '';
            if (file) take(file);
          }}
        />
        {children}
      </label>
      {beside}
    </span>
  );
}

/** What a server said; null: it was not ours, as that of a proxy. */
function wordsIn(reply: string): string | null {
  try {
    return (JSON.parse(reply) as { words?: string }).words ?? null;
  } catch {
    return null;
  }
}
