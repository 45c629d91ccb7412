"""The commands that need no stored data: card, translate, predict, advise."""

from __future__ import annotations

from hakari.core.advice.advise import advise
from hakari.core.errors import InputError
from hakari.core.extraction.prediction import predict
from hakari.core.photo.card import card_of
from hakari.core.translate.answer import PlanInUse, translate
from hakari.core.translate.match import Match
from hakari.core.translate.nearest import target_setting
from hakari.formats import card_drawing
from hakari.formats.grinder import GrinderDocument, TranslationDocument
from hakari.formats.measurement import CardDocument
from hakari.formats.plan import PlanDocument, PredictionDocument
from hakari.formats.slip import AdviceDocument, SlipDocument


def describe_card(paper: str) -> CardDocument:
    """Geometry of a card."""
    return CardDocument.of(card_of(paper))


def draw_card(paper: str, form: str, dpi: int, sheet: str | None) -> bytes:
    """A card as a PDF, SVG or PNG file."""
    card = card_of(paper)
    if sheet is not None and form != "pdf":
        raise InputError("sheet-needs-pdf", "A printer's sheet is drawn as PDF only.", "Use --format pdf.", "format")
    if form == "pdf":
        return card_drawing.pdf(card, sheet)
    return card_drawing.svg(card) if form == "svg" else card_drawing.png(card, dpi)


def translate_documents(
    source: GrinderDocument, setting: str, target: GrinderDocument, match: Match, plan: PlanDocument | None
) -> TranslationDocument:
    """A setting on another grinder's dial; by flow or yield in the given plan."""
    in_plan = PlanInUse(plan.core(), "the given plan") if plan else None
    return TranslationDocument.of(translate(target_setting(source.core(), setting), target.core(), match, in_plan))


def predict_document(plan: PlanDocument) -> PredictionDocument:
    """A predicted brew."""
    grind = plan.grind.core()
    return PredictionDocument.of(predict(plan.core(), grind, plan.factors()), grind)


def advise_document(slip: SlipDocument) -> AdviceDocument:
    """One change for one slip."""
    return AdviceDocument.of(advise(slip.case()))
