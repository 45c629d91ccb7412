import { WAY_WORDS, WORDS } from "../words";
import { useDrillActions, type Asked } from "./drillParts";

const TEXT = WORDS.wordDrill;

/** A taste word and ways to move it. */
export function WordDrill({ question, verdict, answer, next }: Asked) {
  const options = question.options ?? [];
  useDrillActions(
    "words",
    verdict,
    next,
    options.map((way, i) => ({
      key: "QWER"[i]!,
      label: WAY_WORDS[way] ?? way,
      inPage: true,
      run: () => answer(way),
    })),
  );
  return (
    <div className="thing word-drill">
      <p className="quiet">{TEXT.aCupTastes}</p>
      <h1>{question.word}</h1>
      <ul className="ways">
        {options.map((way, i) => (
          <li key={way}>
            <button
              onClick={() => answer(way)}
              disabled={verdict !== null}
              data-right={verdict ? verdict.right === way : undefined}
            >
              <span className="key" aria-hidden="true">
                {"QWER"[i]}
              </span>
              {WAY_WORDS[way] ?? way}
            </button>
          </li>
        ))}
      </ul>
      {verdict && !verdict.well && (
        <p className="drill-say">
          {TEXT.first} {WAY_WORDS[verdict.right]?.toLowerCase()}.
        </p>
      )}
    </div>
  );
}
