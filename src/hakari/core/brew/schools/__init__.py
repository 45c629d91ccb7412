"""Pour schools: each makes a schedule from dose, water and its few options."""

from hakari.core.brew.schools.catalogue import SCHOOLS, draft, school_of
from hakari.core.brew.schools.school import Draft, Option, Order, RecipeStyle

__all__ = ["SCHOOLS", "Draft", "Option", "Order", "RecipeStyle", "draft", "school_of"]
