"""What photos of one light differ by beyond counting: ``python -m benchmarks.same_light``.

Four grinds in each of four lights. The error is against the grounds that a picture shows, so that counting plays no part.
"""

from __future__ import annotations

import numpy as np

from benchmarks.pictures3d.make import MadePicture, cached
from benchmarks.pictures3d.sets import same_light_scenes
from benchmarks.pictures3d.truth import d3_quantiles
from hakari.core.photo.pipeline import CardScale
from hakari.service.samples.measuring import measure_files


def error_ln(made: MadePicture) -> float:
    """Return ln of the measured median over that of the grounds in the picture, above the same cut."""
    found = measure_files([made.jpeg], CardScale()).document
    seen = made.seen_um[made.seen_um >= found.cut_um]
    return float(np.log(found.d50_um / d3_quantiles(seen, seen**3)[1]))


def main() -> None:
    """Print the errors by light, and their spread within one light."""
    by_light: dict[str, list[float]] = {}
    for scene in same_light_scenes():
        by_light.setdefault(scene.light, []).append(error_ln(cached(scene)))
    for light, errors in by_light.items():
        print(f"{light:12}", " ".join(f"{100 * e:+5.1f} %" for e in errors), f"  mean {100 * np.mean(errors):+.1f} %")
    within = float(np.sqrt(np.mean([np.var(e, ddof=1) for e in by_light.values()])))
    print(f"spread within one light {100 * within:.2f} % (standard deviation)")


if __name__ == "__main__":
    main()
