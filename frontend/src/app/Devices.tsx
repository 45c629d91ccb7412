import { useEffect, useState } from "react";
import { type Schemas } from "../api/client";
import { useDevices, useDeviceWrites, usePairingCodes, useThisDevice } from "../api/devices";
import { Choice } from "../ui/Choice";
import { Trouble } from "../ui/parts";
import { clock } from "../ui/words";
import { dayAndTime } from "../ui/dates";
import { WORDS } from "./words";

const TEXT = WORDS.devices;

type Role = "manager" | "barista";
const ROLES = TEXT.roles;
const OTHER = { manager: "barista", barista: "manager", display: "barista" } as const;
type Link = Schemas["Link"] & { words: string };

/** Where phones and tablets reach this server, a code that lets one in, links for those that are in, and which are. */
export function Devices({ station }: { station?: { path: string; name: string } }) {
  const writes = useDeviceWrites();
  const manages = useThisDevice().data?.role === "manager";
  const [role, setRole] = useState<Role>("barista");
  const [shown, setShown] = useState<{ code: Schemas["PairingCode"]; until: number; before: number } | null>(null);
  const [cameIn, setCameIn] = useState<string | null>(null);
  const [link, setLink] = useState<Link | null>(null);
  const [error, setError] = useState<unknown>(null);
  const left = useSecondsTo(shown?.until ?? null);
  const { data } = useDevices(shown !== null);
  const codes = usePairingCodes(manages).data;
  const newest = data?.devices.filter((d) => d.role !== "display").at(-1);
  const arrived = shown && newest && newest.id > shown.before ? newest.name : null;
  useEffect(() => {
    // A code is worth nothing once it was used.
    if (arrived !== null) {
      setShown(null);
      setCameIn(arrived);
    }
  }, [arrived]);
  async function letIn() {
    try {
      const code = await writes.showCode(role);
      const before = Math.max(0, ...(data?.devices.map((d) => d.id) ?? []));
      setCameIn(null);
      setLink(null);
      setShown({ code, until: Date.now() + 1000 * code.valid_s, before });
      setError(null);
    } catch (refusal) {
      setError(refusal);
    }
  }
  async function show(asked: Promise<Schemas["Link"]>, words: string) {
    try {
      const made = await asked;
      setShown(null);
      setLink({ ...made, words });
      setError(null);
    } catch (refusal) {
      setError(refusal);
    }
  }
  const send = ({ path, name }: { path: string; name: string }) =>
    show(writes.linkTo(path.slice(1)), TEXT.scanItWithADeviceThatIsLet(name));
  const addDisplay = () => show(writes.addGuest(), TEXT.scanItWithAnyDeviceInThis);
  if (!data) return null;
  return (
    <section aria-label={TEXT.devices} className="devices">
      {data.urls.length === 0 ? (
        <p>
          {TEXT.hakariServesThisComputerAlone} <code className="one-line">{TEXT.hakariServeLan}</code>{" "}
          {TEXT.toReachItFromAPhoneOrATablet}
        </p>
      ) : (
        <>
          <p>
            {TEXT.otherDevicesOpen} <b className="figure">{data.urls.join(" or ")}</b>
            {TEXT.or} <b className="figure">{data.named_url}</b> {TEXT.whereNamesEndingInLocalWork}
            {!data.https && TEXT.withoutHttpsTheScreenDoes}
          </p>
          {shown && left > 0 ? (
            <div className="pairing">
              <QrCode svg={shown.code.qr_svg} url={shown.code.url} />
              <div>
                <p>{TEXT.scanItWithThePhoneOrOpenThe}</p>
                <p className="figure pairing-code" data-testid="pairing-code">
                  {shown.code.code}
                </p>
                <p className="quiet">{TEXT.forOneDeviceMore(ROLES[role], clock(left))}</p>
              </div>
            </div>
          ) : (
            <>
              {manages && (
                <div className="side-by-side near middle wrap">
                  <span>{TEXT.aNewDeviceComesInAsA}</span>
                  <Choice
                    label={TEXT.whatTheNewDeviceMayDo}
                    options={(["barista", "manager"] as const).map((value) => ({ value, label: ROLES[value] }))}
                    value={role}
                    choose={setRole}
                  />
                  <span className="quiet">{TEXT.mayDo[role]}</span>
                </div>
              )}
              <p className="ways">
                {manages && (
                  <button className="act" onClick={() => void letIn()}>
                    {TEXT.letADeviceIn}
                  </button>
                )}
                {station && (
                  <button className="act" onClick={() => void send(station)}>
                    {TEXT.sendToAPhone(station.name)}
                  </button>
                )}
                {manages && (
                  <button className="act" onClick={() => void addDisplay()}>
                    {TEXT.addABrewDisplay}
                  </button>
                )}
              </p>
              {!manages && <p className="quiet">{TEXT.onlyAManagerLetsDevicesIn}</p>}
            </>
          )}
          {link && (
            <div className="pairing">
              <QrCode svg={link.qr_svg} url={link.url} />
              <div>
                <p>{link.words}</p>
                <p className="quiet breaking" data-testid="link">
                  {link.url}
                </p>
              </div>
            </div>
          )}
          {cameIn !== null && <p role="status">{TEXT.isIn(cameIn)}</p>}
        </>
      )}
      {error != null && <Trouble error={error} />}
      {(codes ?? []).length > 0 && (
        <>
          <h3 className="quiet above-m">{TEXT.codesThatAreValidNow}</h3>
          <ul className="rows">
            {codes?.map((c) => (
              <li key={c.id}>
                <span>
                  {TEXT.forA(ROLES[c.role])}{" "}
                  <span className="quiet">{TEXT.askedBy(c.by, clock(Math.ceil(c.valid_s)))}</span>
                </span>
                <button
                  className="link"
                  onClick={() => {
                    setShown(null);
                    void writes.withdrawCode(c.id);
                  }}
                >
                  {TEXT.withdraw2}
                </button>
              </li>
            ))}
          </ul>
        </>
      )}
      {data.devices.length > 0 && (
        <ul className="rows">
          {data.devices.map((d) => (
            <li key={d.id}>
              <span>
                {d.name}
                <span className="quiet">
                  {" "}
                  {ROLES[d.role]},{" "}
                  {d.last_used_at ? TEXT.lastUsed(dayAndTime(d.last_used_at)) : TEXT.letIn(dayAndTime(d.since))}
                  {d.expired && TEXT.notUsedForTooLong}
                </span>
              </span>
              {manages && (
                <span className="side-by-side">
                  {d.role !== "display" && (
                    <button
                      className="link"
                      aria-label={TEXT.makeIt(d.name, ROLES[OTHER[d.role]])}
                      onClick={() => void writes.changeRole(d.id, OTHER[d.role as Role])}
                    >
                      {TEXT.makeA(ROLES[OTHER[d.role]])}
                    </button>
                  )}
                  <button
                    className="link"
                    onClick={() => void writes.revoke(d.id)}
                    aria-label={d.role === "display" ? TEXT.withdraw(d.name) : TEXT.shutOut(d.name)}
                  >
                    {d.role === "display" ? TEXT.withdraw2 : TEXT.shutOut2}
                  </button>
                </span>
              )}
            </li>
          ))}
        </ul>
      )}
    </section>
  );
}

function QrCode({ svg, url }: { svg: string; url: string }) {
  const source = `data:image/svg+xml;utf8,${encodeURIComponent(svg)}`;
  return <img src={source} alt={TEXT.qrCodeOf(url)} width={168} height={168} />;
}

/** Whole seconds to a moment, counted down. */
function useSecondsTo(until: number | null): number {
  const [now, setNow] = useState(() => Date.now());
  useEffect(() => {
    if (until === null) return;
    setNow(Date.now());
    const tick = setInterval(() => setNow(Date.now()), 1000);
    return () => clearInterval(tick);
  }, [until]);
  return until === null ? 0 : Math.max(0, Math.ceil((until - now) / 1000));
}
