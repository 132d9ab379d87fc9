"""Runs a model with several values of a parameter and prints a measure of each: sweep.py [ADDRESS]"""

import sys

sys.path.insert(0, __file__.rsplit("/", 2)[0])
from anchor_bend import Bench

model = Bench(*sys.argv[1:2]).create(example="tide-gate")
for gain in (6, 12, 18):
    model.set("Position controller", "k", f"{gain} 1/m")
    run = model.run()
    lag = run.measure("maximum(abs('wanted opening' - opening), from = 10 s)")
    pressure = run.measure("maximum('lift pressure')")
    print(f"{gain} 1/m: largest lag {1000 * lag:.1f} mm, pressure {pressure / 1e5:.1f} bar")
