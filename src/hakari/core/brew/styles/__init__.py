"""Pour styles: each makes a schedule from dose, water and its few options."""

from hakari.core.brew.styles.catalogue import STYLES, draft, style_of
from hakari.core.brew.styles.style import Draft, Option, Order, RecipeStyle

__all__ = ["STYLES", "Draft", "Option", "Order", "RecipeStyle", "draft", "style_of"]
