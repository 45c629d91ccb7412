import { useEffect, useState } from "react";
import { usePhotosWaiting } from "../api/photosWaiting";
import { useReach } from "../api/reach";

import { dayAndTime } from "../ui/dates";
import { WORDS } from "./words";

const TEXT = WORDS.away;

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
          <strong>{TEXT.theServerIsNotHeard}</strong>{" "}
          {since != null && TEXT.shownIsWhatThisDeviceHad(dayAndTime(new Date(since).toISOString()))}
        </>
      )}
      {photos > 0 && (photos === 1 ? TEXT.aPhotoWaitsOnThisDevice : TEXT.photosWaitOnThisDevice(photos))}
      {photos > 0 && (refused ? `: ${refused} ` : TEXT.andWillBeSent)}
      {refused && (
        <button className="link" onClick={discard}>
          {TEXT.discard}
        </button>
      )}
    </p>
  );
}
