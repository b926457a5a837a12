/** Our mark: a naught whose last gap is closed by a small coin. */
export function Mark({ size = 22 }: { size?: number }) {
  return (
    <svg width={size} height={size} viewBox="0 0 32 32" aria-hidden="true">
      <path d="M19.62 6.06A10.6 10.6 0 1 0 25.94 12.38" fill="none" className="stroke-wine" strokeWidth="5.2" />
      <circle cx="23.5" cy="8.5" r="3.7" className="fill-ember" />
    </svg>
  );
}
