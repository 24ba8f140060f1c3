/** The flower with two like halves. */
export function Mark({ size = 28 }: { size?: number }) {
  return (
    <svg width={size} height={size} viewBox="-14 -14 28 28" aria-hidden>
      <g fill="none" stroke="currentColor" strokeWidth="1.4">
        <path d="M0-1C-4-6-4-12 0-13C4-12 4-6 0-1Z" fill="#7B2F63" />
        <path d="M-1 0C-7-5-12-4-12-1C-11 3-5 3-1 0Z" fill="#D9B9CF" />
        <path d="M1 0C7-5 12-4 12-1C11 3 5 3 1 0Z" fill="#D9B9CF" />
        <path d="M-1 1C-7 4-7 9-4 10C-1 10 0 5-1 1Z" fill="#E9D9A8" />
        <path d="M1 1C7 4 7 9 4 10C1 10 0 5 1 1Z" fill="#E9D9A8" />
      </g>
    </svg>
  );
}
