/** Says that what is typed is not saved, and offers one thing to do about it. */
export function DraftSign({ words, act, run }: { words: string; act: string; run: () => void }) {
  return (
    <span className="draft" role="status">
      {words}
      <button className="link" onClick={run}>
        {act}
      </button>
    </span>
  );
}
