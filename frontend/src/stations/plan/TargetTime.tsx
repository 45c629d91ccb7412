import type { Schemas } from "../../api/client";
import { settingText } from "../../ui/parts";
import { useTyping } from "../../ui/useTyping";
import { clock } from "../../ui/words";
import { WORDS } from "./words";

const TEXT = WORDS.targetTime;

interface Props {
  value: string;
  found: Schemas["SettingForTime"] | null | undefined;
  setting: string | null | undefined;
  trouble: string | null;
  take: (typed: string) => void;
  turn: (setting: string) => void;
}

/** When the bed should be bare, and the setting that brings it. */
export function TargetTime({ value, found, setting, trouble, take, turn }: Props) {
  const { field } = useTyping(value, take);
  return (
    <div className="chips close">
      <label className="quiet" htmlFor="target-time">
        {TEXT.targetTime}
      </label>
      <input
        id="target-time"
        className="chip own-value"
        placeholder={TEXT.none}
        title={TEXT.whenTheBedShouldBeBareLike}
        {...field}
        maxLength={20}
        aria-invalid={Boolean(trouble)}
      />
      {trouble ? (
        <span className="trouble" role="alert">
          {trouble}
        </span>
      ) : (
        found && value !== "" && <Answer found={found} setting={setting} turn={turn} />
      )}
    </div>
  );
}

function Answer({ found, setting, turn }: Pick<Props, "setting" | "turn"> & { found: Schemas["SettingForTime"] }) {
  if (found.setting == null || found.drawdown_s == null) return <span className="quiet">{found.why_not}</span>;
  const at = `${clock(found.drawdown_s)} at ${settingText(found.setting)}`;
  if (!found.fits) return <span className="quiet">{TEXT.outOfReachTheNearestIs(at)}</span>;
  if (found.setting === setting) return <span className="quiet">{TEXT.predictedWhereItIs(at)}</span>;
  return (
    <>
      <span className="quiet">{TEXT.predicted(at)}</span>
      <button className="link" onClick={() => turn(found.setting!)}>
        {TEXT.toUse(settingText(found.setting))}
      </button>
    </>
  );
}
