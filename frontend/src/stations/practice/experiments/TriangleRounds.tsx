import { useState } from "react";
import { typed } from "../../../api/client";
import { useExperimentWrites, type Body, type Experiment } from "../../../api/practice";
import { Trouble, Typed } from "../../../ui/parts";
import type { Part } from "./experimentPart";
import { NotedTable } from "./NotedTable";
import { PouringSheet } from "./PouringSheet";
import { Choice } from "../../../ui/Choice";
import { WORDS } from "../words";

const TEXT = WORDS.triangleRounds;

type Rounds = Extract<Body, { kind: "triangle" } | { kind: "sieve" }>;
const ORDINALS = ["first", "second", "third"];

/** Rounds of a triangle: pour, taste, name the odd cup; then the round is open. */
export function TriangleRounds({ body, experiment: e, note, error }: Part & { body: Rounds }) {
  const answers = body.answers ?? [];
  const done = Math.max(-1, ...answers.map((a) => a.round ?? 0)) + 1;
  const rounds = body.rounds ?? 12;
  return (
    <>
      {body.kind === "sieve" && <Weighed body={body} note={note} error={error} />}
      {done < rounds ? (
        <Round key={done} experiment={e} number={done} rounds={rounds} />
      ) : (
        <p>
          {TEXT.all} {rounds} {TEXT.roundsAreTasted}{" "}
          <button className="link" onClick={() => void note({ ...body, rounds: Math.min(60, rounds + 6) })}>
            {TEXT.addSixMore}
          </button>
        </p>
      )}
      {answers.length > 0 && (
        <table className="noted" aria-label={TEXT.roundsSoFar}>
          <thead>
            <tr>
              <th>{TEXT.round}</th>
              <th>{TEXT.taster}</th>
              <th>{TEXT.cups}</th>
              <th>{TEXT.named}</th>
              <th>{TEXT.right}</th>
            </tr>
          </thead>
          <tbody>
            {answers.map((a, i) => {
              const right = a.order != null ? oddOf(a.order) === a.named : a.right;
              return (
                <tr key={i} data-right={right}>
                  <th scope="row">{(a.round ?? 0) + 1}</th>
                  <td>{a.taster}</td>
                  <td className="figure">{a.order ?? TEXT.shuffled}</td>
                  <td>{a.named == null ? "" : ORDINALS[a.named]}</td>
                  <td>{right ? TEXT.yes : TEXT.no}</td>
                </tr>
              );
            })}
          </tbody>
        </table>
      )}
    </>
  );
}

const oddOf = (order: string) => [...order].findIndex((l) => [...order].filter((k) => k === l).length === 1);

function Weighed({ body, note, error }: Omit<Part, "experiment"> & { body: Extract<Body, { kind: "sieve" }> }) {
  return (
    <NotedTable
      error={error}
      label={TEXT.weighed}
      columns={[
        { key: "before_g", head: "Ground", unit: "g" },
        { key: "kept_g", head: "Kept", unit: "g" },
        { key: "removed_g", head: TEXT.takenOut, unit: "g" },
        { key: "mesh_um", head: "Mesh", unit: "µm" },
      ]}
      rows={[body]}
      rowName={() => "Dose"}
      set={(_, key, text) => void note({ ...body, [key]: text ? typed(text) : null })}
    />
  );
}

/** The next round: names of the tasters stay from round to round. */
function Round({ experiment: e, number, rounds }: { experiment: Experiment; number: number; rounds: number }) {
  const { answer } = useExperimentWrites();
  const [tasters, setTasters] = useState<string[]>(() => tastersOf(e));
  const [named, setNamed] = useState<Record<number, number>>({});
  const alone = e.alone;
  const ready = tasters.every((_, i) => named[i] !== undefined);
  const choices = alone
    ? [TEXT.itWasNotTheOddOne, TEXT.itWasTheOddOne]
    : ORDINALS.map((o, k) => `${o} (${e.round?.codes[k]})`);
  return (
    <section className="round" aria-label={TEXT.round2(number + 1)}>
      <h2>{TEXT.roundOf(number + 1, rounds)}</h2>
      {alone ? (
        <p>{TEXT.stickANoteUnderEachOfThree}</p>
      ) : (
        <>
          <ol className="cups" aria-label={TEXT.cupsInTheOrderOfTasting}>
            {e.round?.codes.map((c) => (
              <li key={c} className="figure">
                {c}
              </li>
            ))}
          </ol>
          <PouringSheet experiment={e} />
        </>
      )}
      {tasters.map((t, i) => (
        <div key={i} className="taster">
          <Typed
            label={tasters.length > 1 ? TEXT.taster2(i + 1) : TEXT.taster}
            value={t}
            width={150}
            small
            onChange={(name) => setTasters(tasters.map((was, k) => (k === i ? name : was)))}
          />
          <Choice
            label={TEXT.oddCupOf(t, i + 1)}
            options={choices.map((label, value) => ({ value, label }))}
            value={named[i]}
            choose={(k) => setNamed({ ...named, [i]: k })}
          />
        </div>
      ))}
      <div className="round-acts">
        <button
          className="link"
          onClick={() => setTasters([...tasters, `taster ${tasters.length + 1}`])}
          disabled={tasters.length >= 8}
        >
          {TEXT.anotherTaster}
        </button>
        {tasters.length > 1 && (
          <button className="link" onClick={() => setTasters(tasters.slice(0, -1))}>
            {TEXT.oneTasterLess}
          </button>
        )}
        <button
          className="main-act"
          disabled={!ready || answer.isPending}
          onClick={() =>
            answer.mutate({
              id: e.id,
              number,
              named: tasters.map((taster, i) => ({
                taster: taster.trim() || `taster ${i + 1}`,
                ...(alone ? { right: named[i] === 1 } : { named: named[i] }),
              })),
              liked: [],
            })
          }
        >
          {TEXT.openTheRound}
        </button>
      </div>
      {answer.error != null && <Trouble error={answer.error} />}
    </section>
  );
}

/** The tasters of the round before. */
function tastersOf(e: Experiment): string[] {
  const answers = (e.experiment as Rounds).answers ?? [];
  const last = answers.at(-1)?.round;
  const names = answers.filter((a) => a.round === last).map((a) => a.taster ?? "taster");
  return names.length ? names : ["taster"];
}
