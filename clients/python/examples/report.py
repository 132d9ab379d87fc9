"""Runs the cases of a model and writes their report and a table of its run: report.py FOLDER [ADDRESS]"""

import csv
import pathlib
import sys

sys.path.insert(0, __file__.rsplit("/", 2)[0])
from anchor_bend import Bench

folder = pathlib.Path(sys.argv[1])
model = Bench(*sys.argv[2:3]).create(example="tide-gate")
model.test()
(folder / "report.html").write_bytes(model.report())
(folder / "report.xml").write_bytes(model.report("junit"))
opening = [s["reference"] for s in model.signals("opening") if s["label"] in ("opening", "wanted opening")]
with open(folder / "opening.csv", "w", newline="") as file:
    csv.writer(file).writerows(model.run().table(*opening, every=0.5))
print(*sorted(p.name for p in folder.iterdir()))
