/** What did not work, where it happened. */
export function Problem({ text, className = "" }: { text: string; className?: string }) {
  if (!text) return null;
  return (
    <p role="alert" className={`font-bold text-felt ${className}`}>
      {text}
    </p>
  );
}
