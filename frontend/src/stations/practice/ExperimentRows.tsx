import { Link } from "react-router-dom";
import type { Schemas } from "../../api/client";

import { dayAndTime } from "../../ui/dates";
import { said } from "./experiments/resultWords";
import { KIND_WORDS } from "./words";
import "./practice.css";

/** Experiments in a list: what was asked, and what was found. */
export function ExperimentRows({ rows }: { rows: Schemas["ExperimentView"][] }) {
  return (
    <ul className="practice-rows found">
      {rows.map((e) => {
        const words = said(e.result);
        return (
          <li key={e.id}>
            <Link to={`/practice/experiments/${e.id}`}>
              <strong>{e.name}</strong>
              <span className="quiet">
                {KIND_WORDS[e.kind].name}
                {e.coffee && ` · ${e.coffee}`} · {dayAndTime(e.created_at)}
              </span>
            </Link>
            <span className={words.settled ? "settled" : ""}>{words.verdict}</span>
          </li>
        );
      })}
    </ul>
  );
}
