"""Runs all cases of a model, then its code, and ends with 1 where something is missed: prove.py [ADDRESS]"""

import sys

sys.path.insert(0, __file__.rsplit("/", 2)[0])
from anchor_bend import Bench

model = Bench(*sys.argv[1:2]).create(example="tide-gate")
names = model.document["cases"]
outcomes = model.test()
for case in outcomes:
    print(f"{names[case['id']]['name']}: {case['outcome']}")
good = all(case["outcome"] == "passed" for case in outcomes)
for delivery in model.deliveries():
    told = model.check(delivery["id"])
    same = [case for case in told["cases"] if case["outcome"] == "same"]
    print(f"{delivery['part']} as code: {len(same)} of {len(told['cases'])} cases the same")
    good &= len(same) == len(told["cases"]) and not told["compiler"]
sys.exit(0 if good else 1)
