"""Whatever is posted, the answer is a sentence, never a broken server, and the design stays sound."""

from typing import Any

from hypothesis import given
from hypothesis import strategies as st
from hypothesis.extra.django import TestCase

from foliant.core.design import read_design, resolve
from foliant.workshop.models import Project
from tests.making import tag
from tests.workshop.conftest import Maker

scalars = st.one_of(
    st.none(), st.booleans(), st.integers(-(10**9), 10**9), st.floats(allow_nan=False), st.text(max_size=20)
)
anything = st.recursive(
    scalars,
    lambda inner: st.lists(inner, max_size=3) | st.dictionaries(st.text(max_size=8), inner, max_size=3),
    max_leaves=8,
)
ids = st.sampled_from(["p1", "a2", "a3", "a4", "a99", "", "DROP TABLE"])
some_ids = st.lists(ids, max_size=3)
names = st.sampled_from(["width", "height", "corner", "corners", "text", "font", "tracking", "x", "rotation", "copies"])
lettering = st.sampled_from(["edge", "fit", "joined", "stencil", "feature"])
word_names = st.sampled_from(
    [
        "sized_by",
        "weight",
        "slant",
        "points",
        "gap",
        "angle",
        "spread",
        "side",
        "overlap",
        "margin",
        "stretch",
        "bar",
        "number",
    ]
)
things = st.sampled_from(
    [
        "edge a4",
        "fit a4",
        "joined a4",
        "stencil a4",
        "part a2",
        "part a4",
        "piece p1",
        "stock",
        "sheet",
        "operation engrave",
        "ticket",
        "moon",
    ]
)
values = st.dictionaries(
    names | word_names | st.text(max_size=6), scalars | st.sampled_from(["3in", "1/2", "9m"]), max_size=3
)
kinds = st.sampled_from(
    [
        "circle",
        "ring",
        "words",
        "star",
        "drawn",
        "outline",
        "motif",
        "braille",
        "slot",
        "lap",
        "bridge",
        "surround",
        "tabs",
        "combination",
        "moon",
    ]
)
edits = st.one_of(
    st.fixed_dictionaries({"do": st.just("change"), "of": things, "values": values}),
    st.fixed_dictionaries({"do": st.just("move-parts"), "piece": ids, "parts": some_ids, "dx": scalars, "dy": scalars}),
    st.fixed_dictionaries({"do": st.just("duplicate-parts"), "piece": ids, "parts": some_ids, "dx": scalars}),
    st.fixed_dictionaries({"do": st.just("remove-parts"), "piece": ids, "parts": some_ids}),
    st.fixed_dictionaries(
        {
            "do": st.sampled_from(["align-parts", "hold-parts"]),
            "piece": ids,
            "parts": some_ids,
            "to": ids,
            "across": st.sampled_from(["middle", "visual", "up"]),
        }
    ),
    st.fixed_dictionaries(
        {
            "do": st.just("resize-parts"),
            "piece": ids,
            "parts": some_ids,
            "width": scalars,
            "about": ids | st.just("left"),
        }
    ),
    st.fixed_dictionaries(
        {"do": st.just("repeat-parts"), "piece": ids, "parts": some_ids, "kind": st.sampled_from(["rows", "around"])}
    ),
    st.fixed_dictionaries({"do": st.just("make-plain"), "piece": ids, "parts": some_ids}),
    st.fixed_dictionaries(
        {
            "do": st.just("edit-nodes"),
            "part": ids,
            "op": st.sampled_from(["add", "remove", "break", "move", "kind"]),
            "nodes": st.lists(st.tuples(st.integers(-1, 2), st.integers(-1, 5)), max_size=3),
            "dx": scalars,
        }
    ),
    st.fixed_dictionaries(
        {"do": st.just("set-role"), "piece": ids, "parts": some_ids, "role": st.sampled_from(["cuts", "moon"])}
    ),
    st.fixed_dictionaries(
        {
            "do": st.just("treat-parts"),
            "piece": ids,
            "parts": some_ids,
            "treatment": st.sampled_from(["cornered", "grown", "hollowed", "halved", "widened", "moon"]),
            "values": st.dictionaries(
                st.sampled_from(["size", "distance", "width", "joins", "half"]), scalars, max_size=2
            ),
        }
    ),
    st.fixed_dictionaries(
        {
            "do": st.sampled_from(["combine-parts", "surround-parts", "tab-parts", "take-apart", "split-bodies"]),
            "piece": ids,
            "parts": some_ids,
            "how": st.sampled_from(["weld", "subtract", "intersect", "exclude", "divide"]),
        }
    ),
    st.fixed_dictionaries(
        {"do": st.sampled_from(["turn-face", "drop-body"]), "piece": ids, "parts": some_ids, "x": scalars, "y": scalars}
    ),
    st.fixed_dictionaries({"do": st.sampled_from(["cross-lap", "join-bodies"]), "piece": ids, "other": ids}),
    st.fixed_dictionaries({"do": st.just("add-part"), "piece": ids, "kind": kinds, "values": values}),
    st.fixed_dictionaries(
        {
            "do": st.just("set-letters"),
            "piece": st.just("p1"),
            "parts": st.just(["a4"]),
            "what": lettering,
            "to": st.sampled_from(["", "on", "box", "circle", "a2", "a3", "a4", "swsh", "a99"]),
        }
    ),
    st.fixed_dictionaries(
        {"do": st.just("words-on-edge"), "piece": ids, "part": ids, "top": st.text(max_size=8), "bottom": scalars}
    ),
    st.fixed_dictionaries({"do": st.just("fit-between"), "piece": ids, "parts": some_ids, "stay": st.booleans()}),
    st.fixed_dictionaries(
        {"do": st.just("move-bridge"), "piece": ids, "part": ids, "letter": scalars, "counter": scalars}
    ),
    st.fixed_dictionaries({"do": st.just("spell-pieces"), "piece": ids, "part": ids}),
    st.fixed_dictionaries({"do": st.just("place"), "piece": ids, "number": scalars, "x": scalars, "y": scalars}),
    st.fixed_dictionaries({"do": st.text(max_size=10)}),
    anything,
)


THINGS_OF_A_SHOP = ("material birch-ply", "machine bench-laser", "recipe bench-birch-ply-3-cut", "rates", "sheet x")
FIELDS_OF_A_SHOP = (
    *("name", "thicknesses", "thinnest", "face", "grain", "kind", "link", "bed_width", "acceleration", "key"),
    *("thickness", "power", "passes", "speed", "currency", "setup", "machine_hour", "count", "price", "note", "values"),
)


class Fuzz(TestCase):
    """Each example has a database of its own."""

    @given(st.lists(edits, min_size=1, max_size=4))
    def test_any_edit_is_done_or_answered_with_a_sentence(self, wanted: list[Any]) -> None:
        maker = Maker("quenby")
        project = maker.project(tag())
        for edit in wanted:
            revision = Project.objects.get(pk=project.pk).current
            response = maker.post(f"projects/{project.pk}/edits", revision=revision, edit=edit)
            assert response.status_code in (200, 422), response.content[:300]
            if response.status_code == 422:
                message = response.json()["message"]
                assert len(message) > 10
                assert "Traceback" not in message
        design = Project.objects.get(pk=project.pk).design
        assert read_design(design.model_dump(mode="json")) == design
        for piece in design.pieces:
            resolve(piece)

    @given(st.dictionaries(st.sampled_from(["revision", "edit", "kind", "command", "button"]), anything, max_size=3))
    def test_any_body_at_any_address(self, body: dict[str, Any]) -> None:
        maker = Maker("quenby")
        project = maker.project(tag())
        for path in ("edits", "preview", "undo", "redo", "runs", "runs/1/command", "machine/panel"):
            status = maker.post(f"projects/{project.pk}/{path}", **body).status_code
            assert status in (200, 404, 409, 422, 424), (path, body)

    @given(
        st.sampled_from(
            ["material birch-ply", "machine bench-laser", "recipe bench-birch-ply-3-cut", "rates", "sheet x"]
        ),
        st.dictionaries(st.sampled_from([*FIELDS_OF_A_SHOP]), anything, min_size=1, max_size=3),
    )
    def test_any_edit_of_the_shop_is_done_or_answered_with_a_sentence(self, of: str, values: dict[str, Any]) -> None:
        maker = Maker("quenby")
        response = maker.shop({"do": "change", "of": of, "values": values}, 0)
        assert response.status_code in (200, 422), response.content[:300]
        if response.status_code == 422:
            assert len(response.json()["message"]) > 10
        assert maker.get("shop").status_code == 200
