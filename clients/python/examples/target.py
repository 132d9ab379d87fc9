"""Runs the code of both laws of the winch with its machine, the second one from 3 s on: target.py [ADDRESS] [process|board]"""

import sys

sys.path.insert(0, __file__.rsplit("/", 2)[0])
from anchor_bend import Bench

model = Bench(*sys.argv[1:2]).create(example="synchronous-winch")
run = model.target("y1", "y2", kind=sys.argv[2] if len(sys.argv) > 2 else "process")
run.go(time=3)
run.hand_over(2)
run.go(time=3.5)
target = run.target()
for unit in target["units"]:
    print(f"{unit['name']}: {unit['cost']['steps']} steps")
print(f"{target['units'][target['active'] - 1]['name']} has the machine, handed over {len(target['handOvers'])} time")
run.stop()
