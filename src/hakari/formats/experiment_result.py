"""``hakari.experiment-result/1``: what an experiment shows so far, by kind."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Literal

from hakari.core.experiment.ladder import judge_ladder
from hakari.core.experiment.paired import Verdict, compare_pairs
from hakari.core.experiment.repeats import judge_repeats
from hakari.core.experiment.settings import slope_ln
from hakari.core.experiment.sieving import judge_sieving
from hakari.core.experiment.thirds import split_brew
from hakari.core.experiment.triangle import judge_triangle, power, rights_needed, rounds_for_power
from hakari.formats.base import Document, Pair
from hakari.formats.experiment import (
    Body,
    CupOfThird,
    Hand,
    Kind,
    Ladder,
    Sieve,
    Thirds,
    ThreeGrinds,
    Triangle,
    TriangleAnswer,
    TwoWays,
)

FORMAT: Literal["hakari.experiment-result/1"] = "hakari.experiment-result/1"


class SpreadDocument(Document):
    """A standard deviation with its 95 % interval, and the change of a single brew that is believed."""

    mean: float
    sd: float
    ci95_sd: Pair
    repeats: int
    believed_from: float


class TasterResult(Document):
    """One taster's rounds."""

    taster: str
    rounds: int
    rights: int
    p_value: float


class TriangleResultDocument(Document):
    """A triangle: how likely guessing alone explains it, and the share of rounds in which the odd cup was told."""

    rounds: int
    rights: int
    p_value: float
    told_apart: bool
    can_tell: float
    ci95_can_tell: Pair
    rights_needed: int | None
    more_rounds: int | None
    tasters: list[TasterResult]


class ThreeGrindsResult(Document):
    """How time follows size: % of time for 1 % of size, found and predicted; the setting that was liked."""

    time_per_size_found: float | None
    time_per_size_predicted: float | None
    time_off_percent: float | None
    liked: str | None


class PartDocument(Document):
    """One cup of a split brew, and the drink if it had been stopped after it."""

    drink_g: float
    tds_percent: float
    share_percent: float
    ey_percent: float
    mixed_g: float
    mixed_tds_percent: float
    mixed_ey_percent: float


class ThirdsResult(Document):
    """What each cup holds, as found and as predicted."""

    found: list[PartDocument]
    predicted: list[PartDocument]


class TwoWaysResult(Document):
    """The difference of B from A, its interval, and whether to go on."""

    pairs: int
    mean: float
    sd: float
    ci95: Pair
    verdict: Verdict
    more_pairs: int | None


class HandResult(Document):
    """The spread of what was noted in two brews or more."""

    time_s: SpreadDocument | None
    drink_g: SpreadDocument | None
    tds_percent: SpreadDocument | None
    pour_rate_g_s: SpreadDocument | None


class LadderResultDocument(Document):
    """Liking by step, and the best step with its interval."""

    values: list[float]
    mean_liked: list[float]
    peak: float | None
    ci95: Pair
    best: float
    decided: bool


class SieveResult(Document):
    """What sieving took, and whether it was tasted."""

    kept_share: float | None
    removed_share: float | None
    lost_share: float | None
    lost_much: bool
    triangle: TriangleResultDocument | None


class TrianglePower(Document):
    """What a triangle can show before it begins: rights that are needed, power, and rounds for a power of 80 %."""

    rounds: int
    expected_can_tell: float
    rights_needed: int | None
    power: float
    rounds_for_80: int | None

    @classmethod
    def of(cls, rounds: int, expected_can_tell: float) -> TrianglePower:
        """Return the design of so many rounds."""
        return cls(
            rounds=rounds, expected_can_tell=expected_can_tell, rights_needed=rights_needed(rounds),
            power=power(rounds, expected_can_tell), rounds_for_80=rounds_for_power(expected_can_tell),
        )  # fmt: skip


class ExperimentResult(Document):
    """``hakari.experiment-result/1``: what an experiment shows so far; of its kind's result there is one or none."""

    format: Literal["hakari.experiment-result/1"] = FORMAT
    kind: Kind
    power: TrianglePower | None = None
    triangle: TriangleResultDocument | None = None
    three_grinds: ThreeGrindsResult | None = None
    thirds: ThirdsResult | None = None
    two_ways: TwoWaysResult | None = None
    hand: HandResult | None = None
    ladder: LadderResultDocument | None = None
    sieve: SieveResult | None = None


def judge(body: Body) -> ExperimentResult:
    """Return what an experiment shows so far; a kind's result is missing until enough was noted."""
    result = ExperimentResult(kind=body.kind)
    match body:
        case Triangle():
            result.power = TrianglePower.of(body.rounds, body.expected_can_tell)
            result.triangle = _triangle(body.answers)
        case Sieve():
            result.power = TrianglePower.of(body.rounds, body.expected_can_tell)
            result.sieve = _sieve(body)
        case ThreeGrinds():
            result.three_grinds = _three_grinds(body)
        case Thirds():
            result.thirds = _thirds(body)
        case TwoWays():
            result.two_ways = _two_ways(body)
        case Hand():
            result.hand = _hand(body)
        case Ladder():
            result.ladder = _ladder(body)
    return result


def _triangle(answers: Sequence[TriangleAnswer]) -> TriangleResultDocument | None:
    if not answers:
        return None
    found = judge_triangle(sum(a.was_right for a in answers), len(answers))
    tasters = []
    for name in dict.fromkeys(a.taster for a in answers):
        own = [a.was_right for a in answers if a.taster == name]
        tasters.append(
            TasterResult(
                taster=name, rounds=len(own), rights=sum(own), p_value=judge_triangle(sum(own), len(own)).p_value
            )
        )
    return TriangleResultDocument(
        rounds=found.rounds, rights=found.rights, p_value=found.p_value, told_apart=found.told_apart,
        can_tell=found.can_tell, ci95_can_tell=found.ci95_can_tell, rights_needed=found.rights_needed,
        more_rounds=found.more_rounds, tasters=tasters,
    )  # fmt: skip


def _sieve(body: Sieve) -> SieveResult:
    weighed = body.before_g is not None and body.kept_g is not None and body.removed_g is not None
    shares = judge_sieving(body.before_g or 0, body.kept_g or 0, body.removed_g or 0) if weighed else None
    return SieveResult(
        kept_share=shares.kept_share if shares else None, removed_share=shares.removed_share if shares else None,
        lost_share=shares.lost_share if shares else None, lost_much=bool(shares and shares.lost_much),
        triangle=_triangle(body.answers),
    )  # fmt: skip


def _three_grinds(body: ThreeGrinds) -> ThreeGrindsResult | None:
    timed = [g for g in body.grinds if g.time_s is not None]
    if not timed and body.liked is None:
        return None
    both = [(g.time_s, g.predicted_s) for g in timed if g.time_s and g.predicted_s]
    off = 100 * sum(found / said - 1 for found, said in both) / len(both) if both else None
    predicted = [(g.d50_um, g.predicted_s) for g in body.grinds if g.predicted_s]
    return ThreeGrindsResult(
        time_per_size_found=_slope([(g.d50_um, g.time_s) for g in timed if g.time_s]),
        time_per_size_predicted=_slope(predicted), time_off_percent=off, liked=body.liked,
    )  # fmt: skip


def _slope(points: list[tuple[float, float]]) -> float | None:
    return slope_ln([d for d, _ in points], [t for _, t in points]) if len(points) > 1 else None


def _thirds(body: Thirds) -> ThirdsResult | None:
    if len(body.cups) < 2:
        return None
    return ThirdsResult(found=_parts(body.cups, body.dose_g), predicted=_parts(body.predicted, body.dose_g))


def _parts(cups: Sequence[CupOfThird], dose_g: float) -> list[PartDocument]:
    if len(cups) < 2:
        return []
    parts = split_brew([c.drink_g for c in cups], [c.tds_percent for c in cups], dose_g)
    return [PartDocument.model_validate(p, from_attributes=True) for p in parts]


def _two_ways(body: TwoWays) -> TwoWaysResult | None:
    if len(body.pairs) < 2:
        return None
    found = compare_pairs([p.a for p in body.pairs], [p.b for p in body.pairs], body.worth)
    return TwoWaysResult.model_validate(found, from_attributes=True)


def _hand(body: Hand) -> HandResult | None:
    if len(body.brews) < 2:
        return None
    return HandResult(
        time_s=_spread([b.time_s for b in body.brews]), drink_g=_spread([b.drink_g for b in body.brews]),
        tds_percent=_spread([b.tds_percent for b in body.brews]),
        pour_rate_g_s=_spread([b.pour_rate_g_s for b in body.brews]),
    )  # fmt: skip


def _spread(values: Sequence[float | None]) -> SpreadDocument | None:
    noted = [v for v in values if v is not None]
    if len(noted) < 2:
        return None
    found = judge_repeats(noted)
    spread = found.spread
    return SpreadDocument(
        mean=found.mean, sd=spread.sd, ci95_sd=(spread.low, spread.high), repeats=found.repeats,
        believed_from=found.believed_from,
    )  # fmt: skip


def _ladder(body: Ladder) -> LadderResultDocument | None:
    if len({c.value for c in body.cups}) < 3 or len(body.cups) < 4:
        return None
    found = judge_ladder([c.value for c in body.cups], [float(c.liked) for c in body.cups])
    return LadderResultDocument(
        values=list(found.values), mean_liked=list(found.mean_liked), peak=found.peak, ci95=found.ci95, best=found.best,
        decided=found.decided,
    )  # fmt: skip
