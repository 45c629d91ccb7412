import { Dropdown, Form } from "antd";
import { useState } from "react";
import type { Schemas } from "../api/client";
import { useCounters, useCounterWrites } from "../api/devices";
import { useWorkbench } from "../api/workbench";
import { Trouble, Typed } from "../ui/parts";
import { useActions } from "./actions";
import { WORDS } from "./words";

const TEXT = WORDS.counters;

/** Where this device works, in the chain strip; nothing while there is one counter alone. */
export function CounterChoice() {
  const bench = useWorkbench().data;
  return bench && bench.counters > 1 ? <Choice name={bench.counter} /> : null;
}

function Choice({ name }: { name: string }) {
  const counters = useCounters().data ?? [];
  const { choose } = useCounterWrites();
  return (
    <Dropdown
      trigger={["click"]}
      menu={{
        selectable: true,
        selectedKeys: counters.filter((c) => c.here).map((c) => String(c.id)),
        items: counters.map((c) => ({ key: String(c.id), label: c.name, onClick: () => void choose(c.id) })),
      }}
    >
      <button className="counter" aria-label={TEXT.counter(name)} title={TEXT.atWhichCounterThisDeviceWorks}>
        {name}
      </button>
    </Dropdown>
  );
}

/** The counters: choose this device's, make one, delete one. */
export function Counters() {
  const { data } = useCounters();
  const writes = useCounterWrites();
  const { notify } = useActions();
  const [name, setName] = useState("");
  const [error, setError] = useState<unknown>(null);
  async function tryTo(act: () => Promise<unknown>) {
    try {
      await act();
      setError(null);
    } catch (refusal) {
      setError(refusal);
    }
  }
  async function add() {
    await writes.add(name);
    setName("");
  }
  async function remove(counter: Schemas["CounterView"]) {
    await writes.remove(counter.id);
    notify(TEXT.deleted(counter.name), () => writes.restore(counter.id));
  }
  if (!data) return null;
  return (
    <section aria-label={TEXT.counters} className="counters">
      <h3>{TEXT.counters}</h3>
      <p className="quiet">{TEXT.eachCounterHasItsOwnCoffee}</p>
      <ul className="rows">
        {data.map((c) => (
          <li key={c.id}>
            <label>
              <input
                type="radio"
                name="counter"
                checked={c.here}
                onChange={() => void tryTo(() => writes.choose(c.id))}
              />{" "}
              {c.name}
            </label>
            {data.length > 1 && (
              <button className="link" aria-label={TEXT.deleteWord(c.name)} onClick={() => void tryTo(() => remove(c))}>
                {TEXT.deleteWord2}
              </button>
            )}
          </li>
        ))}
      </ul>
      <Form onFinish={() => void tryTo(add)} className="new-counter">
        <Typed small label={TEXT.anotherCounter} placeholder={TEXT.hatch} value={name} onChange={setName} width={180} />
        <button className="link" type="submit" disabled={!name.trim()}>
          {TEXT.add}
        </button>
      </Form>
      {error != null && <Trouble error={error} />}
    </section>
  );
}
