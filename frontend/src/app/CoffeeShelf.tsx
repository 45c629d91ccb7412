import { Button, Form, Input, InputNumber, Modal, Select, Switch } from "antd";
import { useState } from "react";
import { type Schemas } from "../api/client";
import { useCoffees, useCoffeeWrites } from "../api/coffees";
import { useChangeWorkbench } from "../api/workbench";
import { dayOfDate } from "../ui/dates";
import { settingText, Trouble } from "../ui/parts";
import { useUnits } from "../ui/useUnits";
import { useActions } from "./actions";
import { WORDS } from "./words";

const TEXT = WORDS.coffeeShelf;

const ROASTS = ["light", "medium", "medium-dark", "dark"] as const;

const REST: [NonNullable<Schemas["NewCoffee"]["rest_guideline"]>, string][] = [
  ["second-day", TEXT.drinkFromTheSecondDay],
  ["a-week", TEXT.drinkAfterAWeek],
  ["a-month", TEXT.aMonthAtTheMost],
];

type Coffee = NonNullable<ReturnType<typeof useCoffees>["data"]>[number];

/** Choose the coffee of the pass at hand, put a new one on the shelf, change or delete one. */
export function CoffeeShelf({ open, close, chosen }: { open: boolean; close: () => void; chosen?: number }) {
  const coffees = useCoffees();
  const [edited, setEdited] = useState<number | null>(null);
  return (
    <Modal open={open} onCancel={close} footer={null} title={TEXT.coffeeShelf} width={560} destroyOnHidden>
      <ul className="rows shelf below-l">
        {coffees.data?.map((c) => (
          <li key={c.id} className="block">
            {edited === c.id ? (
              <ChangeCoffee coffee={c} done={() => setEdited(null)} />
            ) : (
              <OnShelf coffee={c} chosen={c.id === chosen} close={close} edit={() => setEdited(c.id)} />
            )}
          </li>
        ))}
        {coffees.data?.length === 0 && <li className="quiet">{TEXT.noCoffeeYetNameTheFirstOne}</li>}
      </ul>
      {edited === null && <NewCoffee done={close} />}
    </Modal>
  );
}

function OnShelf({
  coffee: c,
  chosen,
  close,
  edit,
}: {
  coffee: Coffee;
  chosen: boolean;
  close: () => void;
  edit: () => void;
}) {
  const { mass, massFigure } = useUnits();
  const change = useChangeWorkbench();
  const known = [c.origin, c.process, c.roaster, c.flavours].filter(Boolean).join(", ");
  return (
    <>
      <div className="side-by-side apart near">
        <button className="link large" onClick={() => change.mutate({ coffee_id: c.id }, { onSuccess: close })}>
          {c.name}
        </button>
        <span className="quiet">
          {chosen ? TEXT.atHand : ""}
          {c.roast}
          {c.roasted_on != null && TEXT.roastedOn(dayOfDate(c.roasted_on))}{" "}
          <button className="link" aria-label={TEXT.changeIt(c.name)} onClick={edit}>
            {TEXT.change}
          </button>
        </span>
      </div>
      {known && <div className="quiet">{known}</div>}
      <div className="quiet side-by-side apart near">
        <span className={c.rest === "ready" ? "good-news" : c.rest === "unknown" ? undefined : "warning"}>
          {c.rest_words}
        </span>
        {c.grams_left != null && <span>{TEXT.ofLeft(massFigure(c.grams_left), mass(c.bag_g ?? 0))}</span>}
      </div>
      {c.last_good && (
        <button
          className="link"
          onClick={() =>
            change.mutate(
              { coffee_id: c.id, grinder_id: c.last_good!.grinder_id, setting: c.last_good!.setting },
              { onSuccess: close },
            )
          }
        >
          {TEXT.startAtGoodWithInTheSlip(
            c.last_good.grinder,
            settingText(c.last_good.setting),
            c.last_good.coffee,
            c.last_good.brewer,
            c.last_good.slip_number,
          )}
        </button>
      )}
    </>
  );
}

type Fields = Schemas["NewCoffee"];

const NOTHING: Fields = {
  name: "",
  roast: "medium",
  process: "",
  origin: "",
  roaster: "",
  flavours: "",
  dense: false,
  roasted_on: null,
  bag_g: null,
  rest_guideline: "second-day",
};

function NewCoffee({ done }: { done: () => void }) {
  const [coffee, setCoffee] = useState(NOTHING);
  const [error, setError] = useState<unknown>(null);
  const writes = useCoffeeWrites();
  async function add() {
    try {
      await writes.add(coffee);
      done();
    } catch (refusal) {
      setError(refusal);
    }
  }
  return (
    <Form onFinish={() => void add()} className="stack near">
      <h3 className="quiet">{TEXT.aNewCoffee}</h3>
      <CoffeeFields coffee={coffee} set={setCoffee} error={error} />
      <div>
        <Button type="primary" htmlType="submit" disabled={!coffee.name.trim()}>
          {TEXT.putItOnTheShelf}
        </Button>
      </div>
    </Form>
  );
}

function ChangeCoffee({ coffee: c, done }: { coffee: Coffee; done: () => void }) {
  const [fields, setFields] = useState<Fields>({
    name: c.name,
    roast: c.roast,
    process: c.process,
    origin: c.origin,
    roaster: c.roaster,
    flavours: c.flavours,
    dense: c.dense,
    roasted_on: c.roasted_on,
    bag_g: c.bag_g,
    rest_guideline: c.rest_guideline as Fields["rest_guideline"],
  });
  const [error, setError] = useState<unknown>(null);
  const writes = useCoffeeWrites();
  const { notify } = useActions();
  async function save() {
    try {
      await writes.change(c.id, { ...fields, version: c.version });
      done();
    } catch (refusal) {
      setError(refusal);
    }
  }
  async function remove() {
    await writes.remove(c.id);
    notify(TEXT.deleted(c.name), () => writes.restore(c.id));
    done();
  }
  return (
    <Form onFinish={() => void save()} className="stack near">
      <CoffeeFields coffee={fields} set={setFields} error={error} />
      <div className="side-by-side apart near">
        <span className="side-by-side near">
          <Button type="primary" htmlType="submit" disabled={!fields.name.trim()}>
            {TEXT.save}
          </Button>
          <Button onClick={done}>{TEXT.cancel}</Button>
        </span>
        <button type="button" className="link" onClick={() => void remove()}>
          {TEXT.deleteTheCoffee}
        </button>
      </div>
    </Form>
  );
}

function CoffeeFields({ coffee, set, error }: { coffee: Fields; set: (coffee: Fields) => void; error: unknown }) {
  const line = (name: "name" | "origin" | "process" | "roaster" | "flavours", label: string, most = 80) => (
    <Input
      aria-label={label}
      placeholder={label}
      maxLength={most}
      value={coffee[name]}
      onChange={(e) => set({ ...coffee, [name]: e.target.value })}
    />
  );
  return (
    <>
      {line("name", TEXT.name)}
      <div className="two-fields">
        {line("origin", TEXT.origin)}
        {line("process", TEXT.process)}
        {line("roaster", TEXT.roaster)}
        {line("flavours", TEXT.flavourNotes, 200)}
      </div>
      <div className="side-by-side middle near wrap">
        <Select
          aria-label={TEXT.roast}
          className="field-m"
          value={coffee.roast}
          options={ROASTS.map((r) => ({ value: r, label: r }))}
          onChange={(roast) => set({ ...coffee, roast })}
        />
        <label className="quiet">
          {TEXT.roastedOnLabel}{" "}
          <Input
            type="date"
            className="field-l"
            value={coffee.roasted_on ?? ""}
            onChange={(e) => set({ ...coffee, roasted_on: e.target.value || null })}
          />
        </label>
        <label className="quiet side-by-side middle near">
          <Switch size="small" checked={coffee.dense} onChange={(dense) => set({ ...coffee, dense })} />{" "}
          {TEXT.denseBeans}
        </label>
      </div>
      <div className="side-by-side middle near wrap">
        <InputNumber
          aria-label={TEXT.gramsInTheBag}
          placeholder={TEXT.gramsInTheBag2}
          min={1}
          className="field-m"
          value={coffee.bag_g}
          onChange={(bag_g) => set({ ...coffee, bag_g })}
        />
        <Select
          aria-label={TEXT.rest}
          className="field-l"
          value={coffee.rest_guideline}
          options={REST.map(([value, label]) => ({ value, label }))}
          onChange={(rest_guideline) => set({ ...coffee, rest_guideline })}
        />
      </div>
      {error != null && <Trouble error={error} />}
    </>
  );
}
