import { useState, useEffect } from "react";

export function usePicture(src: string): HTMLImageElement | null {
  const [loaded, setLoaded] = useState<{ src: string; image: HTMLImageElement } | null>(null);
  useEffect(() => {
    const image = new Image();
    image.onload = () => setLoaded({ src, image });
    image.src = src;
    return () => {
      image.onload = null;
    };
  }, [src]);
  return loaded?.src === src ? loaded.image : null;
}
