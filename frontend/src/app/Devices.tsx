import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { api, dataOf, type Schemas } from "../api/client";
import { Trouble } from "../ui/parts";
import { clock, when } from "../ui/words";

const LOOK_AGAIN_MS = 1500;

/** Where phones and tablets reach this server, a code that lets one in, and which are in. */
export function Devices() {
  const queries = useQueryClient();
  const [shown, setShown] = useState<{ code: Schemas["PairingCode"]; until: number; before: number } | null>(null);
  const [cameIn, setCameIn] = useState<string | null>(null);
  const [error, setError] = useState<unknown>(null);
  const left = useSecondsTo(shown?.until ?? null);
  const { data } = useQuery({
    queryKey: ["devices"],
    queryFn: async () => dataOf(await api.GET("/api/devices")),
    refetchInterval: shown ? LOOK_AGAIN_MS : false,
  });
  const newest = data?.devices.at(-1);
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
      const code = dataOf(await api.POST("/api/pairing-codes", { body: {} }));
      const before = Math.max(0, ...(data?.devices.map((d) => d.id) ?? []));
      setCameIn(null);
      setShown({ code, until: Date.now() + 1000 * code.valid_s, before });
      setError(null);
    } catch (refusal) {
      setError(refusal);
    }
  }
  async function revoke(id: number) {
    await api.DELETE("/api/devices/{id}", { params: { path: { id } } });
    await queries.invalidateQueries({ queryKey: ["devices"] });
  }
  if (!data) return null;
  return (
    <section aria-label="Devices" className="devices">
      {data.urls.length === 0 ? (
        <p>
          Hakari serves this computer alone. Start it with{" "}
          <code style={{ whiteSpace: "nowrap" }}>hakari serve --lan</code> to reach it from a phone or a tablet in the
          same network.
        </p>
      ) : (
        <>
          <p>
            Other devices open <b className="figure">{data.urls.join(" or ")}</b>
            {!data.https && ". Without HTTPS the screen does not stay awake there"}.
          </p>
          {shown && left > 0 ? (
            <div className="pairing">
              <img
                src={`data:image/svg+xml;utf8,${encodeURIComponent(shown.code.qr_svg)}`}
                alt={`QR code of ${shown.code.url}`}
                width={168}
                height={168}
              />
              <div>
                <p>Scan it with the phone, or open the address there and type</p>
                <p className="figure pairing-code" data-testid="pairing-code">
                  {shown.code.code}
                </p>
                <p className="quiet">for one device, {clock(left)} more</p>
              </div>
            </div>
          ) : (
            <p>
              <button className="link" onClick={() => void letIn()}>
                Let a device in
              </button>
            </p>
          )}
          {cameIn !== null && <p role="status">{cameIn} is in.</p>}
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
                  , {d.last_used_at ? `last used ${when(d.last_used_at)}` : `let in ${when(d.since)}`}
                </span>
              </span>
              <button className="link" onClick={() => void revoke(d.id)} aria-label={`Shut ${d.name} out`}>
                Shut out
              </button>
            </li>
          ))}
        </ul>
      )}
    </section>
  );
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
