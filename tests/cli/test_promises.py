"""What docs/operations.md promises: each promise names a test that is there."""

import ast
import re
from pathlib import Path

ROOT = Path(__file__).parents[2]


def test_each_promise_names_a_test_that_is_there() -> None:
    text = (ROOT / "docs" / "operations.md").read_text()
    table = text[text.index("## What is promised") : text.index("Not promised:")]
    rows = [line for line in table.splitlines() if line.startswith("| ") and not line.startswith("| promise")]
    named = [re.fullmatch(r"\| .+ \| `(tests/[\w/]+\.py)::(\w+)` \|", row) for row in rows]
    assert len(rows) >= 20 and all(named)
    for match in named:
        assert match is not None
        path, name = match.groups()
        tree = ast.parse((ROOT / path).read_text())
        assert name in {f.name for f in tree.body if isinstance(f, ast.FunctionDef)}, f"{path} has no {name}"
