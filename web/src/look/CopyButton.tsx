import { useEffect, useState } from 'react';
import { Button } from 'react-bootstrap';

/** Copies a text and says so, also to those who do not see it. */
export function CopyButton({ text, what }: { text: string; what: string }) {
  const [copied, setCopied] = useState(false);
  useEffect(() => {
    if (!copied) return;
    const timer = setTimeout(() => setCopied(false), 2_500);
    return () => clearTimeout(timer);
  }, [copied]);
  return (
    <Button
      variant="outline-primary"
      size="sm"
      aria-label={`Copy ${what}`}
      onClick={() => void navigator.clipboard.writeText(text).then(() => setCopied(true))}
    >
      <span aria-live="polite">{copied ? 'Copied' : 'Copy'}</span>
    </Button>
  );
}
