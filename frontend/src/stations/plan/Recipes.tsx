import { ChooseFile } from "../../ui/ChooseFile";
import { Form, Modal } from "antd";
import { useState } from "react";
import type { Schemas } from "../../api/client";
import { useRecipes, useRecipeWrites } from "../../api/plans";
import { useActions } from "../../app/actions";
import { settingText, Trouble, Typed, Waiting } from "../../ui/parts";
import { whole } from "../../ui/words";
import { WORDS } from "./words";

const TEXT = WORDS.recipes;

interface Props {
  open: boolean;
  close: () => void;
  recipe: Schemas["Recipe"];
  use: (recipe: Schemas["Recipe"]) => void;
}

/** Recipes kept under a name: each for whose grinder it was written, and how it reads in one's own. */
export function Recipes({ open, close, recipe, use }: Props) {
  const writes = useRecipeWrites();
  const { notify } = useActions();
  const [name, setName] = useState("");
  const [error, setError] = useState<unknown>(null);
  const list = useRecipes(open);
  async function attempt(work: () => Promise<unknown>) {
    try {
      await work();
      setError(null);
    } catch (refusal) {
      setError(refusal);
    }
  }
  const keep = () =>
    attempt(async () => {
      await writes.keep(name, recipe);
      setName("");
    });
  const remove = (r: Schemas["RecipeView"]) =>
    attempt(async () => {
      await writes.remove(r.id);
      notify(TEXT.deleted(r.name), () => writes.restore(r.id));
    });
  const read = (chosen: File | undefined) => attempt(async () => chosen && writes.read(chosen));
  return (
    <Modal open={open} onCancel={close} footer={null} title={TEXT.recipes} width={760} destroyOnHidden>
      <Form onFinish={() => void keep()} className="side-by-side low below-m">
        <Typed small label={TEXT.saveThisPlansRecipeAs} value={name} onChange={setName} width={300} />
        <button className="chip" type="submit" disabled={!name.trim()}>
          {TEXT.save}
        </button>
        <span className="grow" />
        <ChooseFile accept=".json,application/json" testId="recipe-file" choose={(chosen) => void read(chosen)}>
          {TEXT.readOneFromAFile}
        </ChooseFile>
        <button
          className="link"
          type="button"
          onClick={() => {
            close();
            setTimeout(() => window.print(), 400);
          }}
        >
          {TEXT.printThisPlan}
        </button>
      </Form>
      {error != null && <Trouble error={error} />}
      {list.isPending && open && <Waiting>{TEXT.fetching}</Waiting>}
      {list.data?.length === 0 && <p className="quiet">{TEXT.noRecipesSavedYetGiveThis}</p>}
      <ul className="rows">
        {list.data?.map((r) => (
          <li key={r.id}>
            <span>
              <strong className="half-bold">{r.name}</strong>
              <br />
              <span className="quiet">
                {r.said}
                {r.grinder_name &&
                  (r.setting
                    ? TEXT.writtenForTheAt(r.grinder_name, settingText(r.setting))
                    : TEXT.writtenForThe(r.grinder_name))}
                {r.median_um != null && `, ${whole(r.median_um)} µm`}
                {r.yours && (
                  <>
                    {TEXT.yours} <strong>{settingText(r.yours)}</strong>
                  </>
                )}
              </span>
            </span>
            <span className="side-by-side one-line">
              <button
                className="link"
                onClick={() => {
                  use(r.recipe);
                  setName(`${r.name}, varied`);
                  close();
                }}
              >
                {TEXT.toUseIt}
              </button>
              <a className="link" href={`/api/recipes/${r.id}/export`} download={`${r.name}.json`}>
                {TEXT.save2}
              </a>
              <button className="link" aria-label={TEXT.deleteWord(r.name)} onClick={() => void remove(r)}>
                {TEXT.deleteWord2}
              </button>
            </span>
          </li>
        ))}
      </ul>
    </Modal>
  );
}
