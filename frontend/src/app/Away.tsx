import { useEffect, useState } from "react";
import { usePhotosWaiting } from "../api/photosWaiting";
import { useReach } from "../api/reach";
import { when } from "../ui/words";

const SHOWN_AFTER_MS = 1500;

/** Says that the server is not heard and what waits on this device for it; a moment's silence is not told. */
export function Away() {
  const { away, since } = useReach();
  const { photos, refused, discard } = usePhotosWaiting();
  const [long, setLong] = useState(false);
  useEffect(() => {
    setLong(false);
    if (!away) return;
    const timer = setTimeout(() => setLong(true), SHOWN_AFTER_MS);
    return () => clearTimeout(timer);
  }, [away]);
  if (!(away && long) && photos === 0) return null;
  return (
    <p className="away" role="status">
      {away && (
        <>
          <strong>The server is not heard.</strong>{" "}
          {since != null && `Shown is what this device had ${when(new Date(since).toISOString())}. `}
        </>
      )}
      {photos > 0 && (photos === 1 ? "A photo waits on this device" : `${photos} photos wait on this device`)}
      {photos > 0 && (refused ? `: ${refused} ` : " and will be sent. ")}
      {refused && (
        <button className="link" onClick={discard}>
          Discard
        </button>
      )}
    </p>
  );
}
