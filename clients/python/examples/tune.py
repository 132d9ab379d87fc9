"""Looks for the gain that follows the plan best, by golden section: tune.py [ADDRESS]"""

import sys

sys.path.insert(0, __file__.rsplit("/", 2)[0])
from anchor_bend import Bench

model = Bench(*sys.argv[1:2]).create(example="tide-gate")
GOLDEN = (5**0.5 - 1) / 2


def lag(gain):
    model.set("Position controller", "k", f"{gain:.6g} 1/m")
    return model.run().measure("maximum(abs('wanted opening' - opening), from = 10 s)")


low, high = 4.0, 20.0
inner, outer = high - GOLDEN * (high - low), low + GOLDEN * (high - low)
at_inner, at_outer = lag(inner), lag(outer)
while high - low > 2:
    if at_inner < at_outer:
        high, outer, at_outer = outer, inner, at_inner
        inner = high - GOLDEN * (high - low)
        at_inner = lag(inner)
    else:
        low, inner, at_inner = inner, outer, at_outer
        outer = low + GOLDEN * (high - low)
        at_outer = lag(outer)
print(f"gain {(low + high) / 2:.2f} 1/m: largest lag {1000 * min(at_inner, at_outer):.1f} mm")
