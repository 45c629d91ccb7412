import { useEffect, useState } from "react";
import { type Schemas } from "../api/client";
import { useDevices, useDeviceWrites } from "../api/devices";
import { Trouble } from "../ui/parts";
import { clock, when } from "../ui/words";
import { WORDS } from "./words";

const TEXT = WORDS.devices;

type Link = Schemas["Link"] & { words: string };

/** Where phones and tablets reach this server, a code that lets one in, links for those that are in, and which are. */
export function Devices({ station }: { station?: { path: string; name: string } }) {
  const writes = useDeviceWrites();
  const [shown, setShown] = useState<{ code: Schemas["PairingCode"]; until: number; before: number } | null>(null);
  const [cameIn, setCameIn] = useState<string | null>(null);
  const [link, setLink] = useState<Link | null>(null);
  const [error, setError] = useState<unknown>(null);
  const left = useSecondsTo(shown?.until ?? null);
  const { data } = useDevices(shown !== null);
  const newest = data?.devices.filter((d) => !d.guest).at(-1);
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
      const code = await writes.showCode();
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
                <p className="quiet">{TEXT.forOneDeviceMore(clock(left))}</p>
              </div>
            </div>
          ) : (
            <p className="ways">
              <button className="act" onClick={() => void letIn()}>
                {TEXT.letADeviceIn}
              </button>
              {station && (
                <button className="act" onClick={() => void send(station)}>
                  {TEXT.sendToAPhone(station.name)}
                </button>
              )}
              <button className="act" onClick={() => void addDisplay()}>
                {TEXT.addABrewDisplay}
              </button>
            </p>
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
      {data.devices.length > 0 && (
        <ul className="rows">
          {data.devices.map((d) => (
            <li key={d.id}>
              <span>
                {d.name}
                <span className="quiet">
                  {d.guest && TEXT.showsTheBrew},{" "}
                  {d.last_used_at ? TEXT.lastUsed(when(d.last_used_at)) : TEXT.letIn(when(d.since))}
                </span>
              </span>
              {d.guest ? (
                <button className="link" onClick={() => void writes.revoke(d.id)} aria-label={TEXT.withdraw(d.name)}>
                  {TEXT.withdraw2}
                </button>
              ) : (
                <button className="link" onClick={() => void writes.revoke(d.id)} aria-label={TEXT.shutOut(d.name)}>
                  {TEXT.shutOut2}
                </button>
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
