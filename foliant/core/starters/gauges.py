"""Starters that measure: what fits the stock at hand."""

from foliant.core.starters.starter import Edit, Starter, piece, put

_SLOTS = (-0.3, -0.2, -0.1, 0.0, 0.1, 0.2, 0.3)  # mm wider than the stock is thick
_APART = 16.0
_DEEP = 14.0


class SlotGauge(Starter):
    """A comb of slots from its upper edge, each with what it is wider than the stock."""

    def begins(self, thickness: float) -> tuple[Edit, ...]:
        found = [piece("Slot gauge"), put("rectangle", width=_APART * len(_SLOTS), height=34)]
        for at, more in enumerate(_SLOTS):
            middle, wide = _APART * (at + 0.5), round(max(thickness + more, 0.1), 3)
            says = f"{more:+.1f}" if more else "0"
            found += [
                put("rectangle", width=wide, height=_DEEP + 1, x=middle, y=(_DEEP - 1) / 2, role="cuts"),
                put("words", x=middle, y=24, text=says, font="alegreya-sans", cap_height=4),
            ]
        return tuple(found)


SLOT_GAUGE = SlotGauge(
    "slot-gauge", "Slot gauge", "slots from 0.3 mm under the measured thickness to 0.3 over", (112, 34)
)

GAUGES = (SLOT_GAUGE,)
