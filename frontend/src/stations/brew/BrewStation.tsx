import { useNavigate } from "react-router-dom";
import { useStationActions } from "../../app/actions";
import { useWorkbench } from "../../api/workbench";
import { Waiting, QueryBoundary } from "../../ui/parts";
import { AfterBrew } from "./AfterBrew";
import { BeforeBrew } from "./BeforeBrew";
import { Brewing } from "./Brewing";
import { useBrew } from "../../api/brews";
import { usePlan } from "../../api/plans";
import { usePassWrites } from "../../api/passes";
import { useHand } from "./useHand";
import "./brew.css";
import { WORDS } from "./words";

const TEXT = WORDS.brewStation;

/** Station 4: what do I do now? */
export default function BrewStation() {
  const bench = useWorkbench();
  const planId = bench.data?.plan?.id;
  const brewId = bench.data?.brew?.id;
  const plan = usePlan(planId);
  const brew = useBrew(brewId);
  const passes = usePassWrites();
  const hand = useHand(brewId, () => void passes.begin(bench.data?.id ?? undefined));
  if (bench.data && planId === undefined) return <NoPlan />;
  // A cup that was recorded from memory has a brew without a clock.
  const current = brewId !== undefined ? brew.data : undefined;
  return (
    <QueryBoundary query={bench}>
      <QueryBoundary query={plan}>
        {plan.data &&
          (brewId !== undefined && brew.isPending ? (
            <div className="empty">
              <Waiting>{TEXT.fetching}</Waiting>
            </div>
          ) : current === undefined ? (
            <BeforeBrew
              key={bench.data!.id}
              passId={bench.data!.id ?? null}
              plan={plan.data}
              usual={bench.data!.scale}
            />
          ) : current.state === "running" ? (
            <Brewing key={current.id} plan={plan.data} brew={current} hand={hand} />
          ) : (
            <AfterBrew key={current.id} plan={plan.data} brew={current} hand={hand} />
          ))}
      </QueryBoundary>
    </QueryBoundary>
  );
}

function NoPlan() {
  const navigate = useNavigate();
  useStationActions("", [{ key: "Space", label: TEXT.makeAPlan, main: true, run: () => navigate("/plan") }]);
  return (
    <div className="empty">
      <h1>{TEXT.nothingToBrewYet}</h1>
      <p>{TEXT.makeAPlanFirstThenItsPours}</p>
    </div>
  );
}
