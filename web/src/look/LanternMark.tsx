/** The product's own sign. */
export function LanternMark({ size = 26 }: { size?: number }) {
  return (
    <svg width={size} height={size} viewBox="0 0 32 32" fill="none" stroke="currentColor" strokeWidth="2.2" strokeLinejoin="round" aria-hidden="true">
      <path d="M11 12h10l2 12H9z" />
      <path d="M12 9h8l1 3H11zM16 4v5M8 24h16v3.5H8z" />
      <path d="M16 15.5c2 2.2 2 4.4 0 5.6-2-1.2-2-3.4 0-5.6z" fill="currentColor" strokeWidth="1" />
    </svg>
  );
}
