import { Button, Form, Input, InputNumber, Modal, Select, Switch } from "antd";
import { useState } from "react";
import { type Schemas } from "../api/client";
import { useCoffees, useCoffeeWrites } from "../api/coffees";
import { useChangeWorkbench } from "../api/workbench";
import { settingText, Trouble } from "../ui/parts";
import { useUnits } from "../ui/useUnits";
import { WORDS } from "./words";

const TEXT = WORDS.coffeeShelf;

const ROASTS = ["light", "medium", "medium-dark", "dark"] as const;

const REST: [NonNullable<Schemas["NewCoffee"]["rest_guideline"]>, string][] = [
  ["second-day", TEXT.drinkFromTheSecondDay],
  ["a-week", TEXT.drinkAfterAWeek],
  ["a-month", TEXT.aMonthAtTheMost],
];

/** Choose the coffee on the bench, or put a new one on the shelf. */
export function CoffeeShelf({ open, close, chosen }: { open: boolean; close: () => void; chosen?: number }) {
  const coffees = useCoffees();
  const { mass, massFigure } = useUnits();
  const change = useChangeWorkbench();
  return (
    <Modal open={open} onCancel={close} footer={null} title={TEXT.coffeeShelf} width={520} destroyOnHidden>
      <ul className="rows shelf below-l">
        {coffees.data?.map((c) => (
          <li key={c.id} className="block">
            <div className="side-by-side apart near">
              <button className="link large" onClick={() => change.mutate({ coffee_id: c.id }, { onSuccess: close })}>
                {c.name}
              </button>
              <span className="quiet">
                {c.id === chosen ? TEXT.onTheBench : ""}
                {c.roast}
                {c.days_off_roast != null && TEXT.daysOffRoast(c.days_off_roast)}
              </span>
            </div>
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
          </li>
        ))}
        {coffees.data?.length === 0 && <li className="quiet">{TEXT.noCoffeeYetNameTheFirstOne}</li>}
      </ul>
      <NewCoffee done={close} />
    </Modal>
  );
}

function NewCoffee({ done }: { done: () => void }) {
  const [coffee, setCoffee] = useState<Schemas["NewCoffee"]>({
    name: "",
    roast: "medium",
    process: "",
    dense: false,
    days_off_roast: null,
    bag_g: null,
    rest_guideline: "second-day",
  });
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
      <Input
        aria-label={TEXT.name}
        placeholder={TEXT.name}
        maxLength={80}
        value={coffee.name}
        onChange={(e) => setCoffee({ ...coffee, name: e.target.value })}
      />
      <div className="side-by-side middle near">
        <Select
          aria-label={TEXT.roast}
          className="field-m"
          value={coffee.roast}
          options={ROASTS.map((r) => ({ value: r, label: r }))}
          onChange={(roast) => setCoffee({ ...coffee, roast })}
        />
        <InputNumber
          aria-label={TEXT.daysOffRoast2}
          placeholder={TEXT.daysOffRoast3}
          min={0}
          max={3650}
          className="field-m"
          value={coffee.days_off_roast}
          onChange={(d) => setCoffee({ ...coffee, days_off_roast: d })}
        />
        <label className="quiet side-by-side middle near">
          <Switch size="small" checked={coffee.dense} onChange={(dense) => setCoffee({ ...coffee, dense })} />{" "}
          {TEXT.denseBeans}
        </label>
      </div>
      <div className="side-by-side middle near">
        <InputNumber
          aria-label={TEXT.gramsInTheBag}
          placeholder={TEXT.gramsInTheBag2}
          min={1}
          className="field-m"
          value={coffee.bag_g}
          onChange={(bag_g) => setCoffee({ ...coffee, bag_g })}
        />
        <Select
          aria-label={TEXT.rest}
          className="field-l"
          value={coffee.rest_guideline}
          options={REST.map(([value, label]) => ({ value, label }))}
          onChange={(rest_guideline) => setCoffee({ ...coffee, rest_guideline })}
        />
      </div>
      {error != null && <Trouble error={error} />}
      <div>
        <Button type="primary" htmlType="submit" disabled={!coffee.name.trim()}>
          {TEXT.putItOnTheShelf}
        </Button>
      </div>
    </Form>
  );
}
