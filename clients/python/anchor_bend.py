"""A client for Anchor Bend's HTTP interface that needs Python's standard library alone (3.9 or later).

    from anchor_bend import Bench
    gate = Bench().model("Tide gate")
    run = gate.run()
    print(run.measure("maximum('lift pressure')"))

What each call takes and gives is told in docs/http.md; call() reaches all of it.
"""

import csv
import io
import json
import urllib.error
import urllib.parse
import urllib.request
from time import sleep


class Problem(Exception):
    """An answer that is an error, in the server's words."""

    def __init__(self, status, message, advice=None):
        super().__init__(" ".join(filter(None, (message, advice))))
        self.status, self.message, self.advice = status, message, advice


class Bench:
    """A running server."""

    def __init__(self, address="http://127.0.0.1:5180", token=None, timeout=300):
        """address: where it listens. token: sent as a bearer, where the server asks for one. timeout: of one call, s."""
        self.address, self.token, self.timeout = address.rstrip("/"), token, timeout

    def open(self, method, path, body=None, query=None, timeout=None):
        """The response to a call, not read yet. body: what goes as JSON, or bytes as they are. query: names with values, or lists."""
        address = self.address + path
        if query:
            address += "?" + urllib.parse.urlencode({k: v for k, v in query.items() if v is not None}, doseq=True)
        raw = isinstance(body, (bytes, bytearray))
        headers = {} if body is None else {"Content-Type": "application/octet-stream" if raw else "application/json"}
        if self.token:
            headers["Authorization"] = "Bearer " + self.token
        data = body if body is None or raw else json.dumps(body).encode()
        request = urllib.request.Request(address, data, headers, method=method)
        try:
            return urllib.request.urlopen(request, timeout=timeout or self.timeout)
        except urllib.error.HTTPError as error:
            try:
                told = json.loads(error.read())
            except ValueError:
                told = {}
            raise Problem(error.code, told.get("detail") or told.get("title") or str(error), told.get("advice")) from None

    def call(self, method, path, body=None, query=None):
        """The answer to a call: objects and lists from JSON, None for nothing, bytes for files."""
        with self.open(method, path, body, query) as response:
            data = response.read()
            kind = response.headers.get_content_type()
        return None if not data else json.loads(data) if kind.endswith("json") else data

    def unit(self, data):
        """Keeps an exchange unit of somebody else, given in bytes: its ports, and the definition of a part that it computes."""
        return self.call("POST", "/api/units", data)

    def models(self):
        """All models: id, name, when they changed."""
        return self.call("GET", "/api/models", query={"limit": 1000})

    def model(self, name):
        """A model by its name or id."""
        found = [m for m in self.models() if name in (m["name"], m["id"])]
        if not found:
            raise Problem(404, f"There is no model '{name}'.")
        return Model(self, found[0]["id"])

    def create(self, **what):
        """Makes a model: name, document, text or example."""
        return Model(self, self.call("POST", "/api/models", what)["id"])


class Model:
    """One model on the server."""

    def __init__(self, bench, id):
        self.bench, self.id = bench, id

    def call(self, method, path="", body=None, query=None):
        return self.bench.call(method, f"/api/models/{self.id}{path}", body, query)

    @property
    def document(self):
        """The document as it is now."""
        return self.call("GET")["document"]

    def edit(self, label, *operations):
        """Stores an edit: operations of a JSON Patch on the document. Tries again where somebody else was quicker."""
        for _ in range(10):
            basis = self.call("GET")["revision"]
            try:
                return self.call("POST", "/edits", {"basis": basis, "label": label, "operations": list(operations)})
            except Problem as problem:
                if problem.status != 409:
                    raise
        raise Problem(409, "Others change the model all the time.")

    def set(self, part, parameter, value):
        """Gives a part on the top level another value, as typed: set("Position controller", "k", "14 1/m")."""
        main = self.document
        diagram = main["definitions"][main["root"]]
        ids = [id for id, node in diagram["parts"].items() if node["name"] == part]
        if not ids:
            raise Problem(404, f"There is no part '{part}' on the top level.")
        path = f"/definitions/{main['root']}/parts/{ids[0]}/parameters/{parameter}"
        return self.edit(f"Set {part}.{parameter}", {"op": "add", "path": path, "value": str(value)})

    def undo(self):
        return self.call("POST", "/undo", {})

    def run(self):
        """Runs the model as it is to its end."""
        return Run(self.bench, self.call("POST", "/runs", {})["id"]).wait()

    def play(self):
        """A run that is played by hand; it stands at its start."""
        return Play(self.bench, self.call("POST", "/plays")["id"])

    def target(self, *deliveries, kind="process"):
        """The same with the code of deliveries in their part's place: on this machine (process) or a simulated board. The first one has
        the plant."""
        return Play(self.bench, self.call("POST", "/targets", {"deliveries": list(deliveries), "kind": kind})["id"])

    def signals(self, search=""):
        """Signals by what is searched for: path, label, unit, and the reference that tables take."""
        return self.call("GET", "/signals", query={"search": search, "limit": 1000})["signals"]

    def events(self):
        """What happens to the model from now on: pairs of a kind and what it tells. The first one is 'listening'."""
        with self.bench.open("GET", f"/api/models/{self.id}/events", timeout=3600) as response:
            kind, data = "message", []
            for line in response:
                line = line.decode().rstrip("\r\n")
                if line.startswith("event:"):
                    kind = line[6:].strip()
                elif line.startswith("data:"):
                    data.append(line[5:].strip())
                elif not line and data:
                    yield kind, json.loads("\n".join(data))
                    kind, data = "message", []

    def test(self, choice="all"):
        """Runs the cases (all, failed or stale ones) and waits for their end. Returns the cases with their outcomes."""
        suite = None
        for kind, told in self.events():
            if kind == "listening":
                suite = self.call("POST", "/cases/runs", {"choice": choice})
                if suite["state"] != "running":
                    break
            elif kind == "cases" and suite and told["id"] == suite["id"] and told["state"] != "running":
                break
        return self.call("GET", "/cases")["cases"]

    def report(self, form="html"):
        """The newest results of the cases as html, pdf or junit, in bytes."""
        return self.call("GET", "/report", query={"form": form})

    def deliveries(self):
        return self.call("GET", "/deliveries")

    def check(self, delivery):
        """Checks the code of a delivery: warnings, rules, drawn inputs, cases."""
        return self.call("POST", f"/deliveries/{delivery}/check")

    def archive(self, delivery):
        """What a delivery hands on, in bytes."""
        return self.call("GET", f"/deliveries/{delivery}/archive")


class Run:
    """One run of a model."""

    def __init__(self, bench, id):
        self.bench, self.id = bench, id

    def wait(self):
        while True:
            view = self.bench.call("GET", f"/api/runs/{self.id}", query={"wait": "true"})
            if view["state"] not in ("waiting", "running"):
                break
        if view["state"] != "finished":
            failure = view.get("failure") or {}
            raise Problem(422, failure.get("message") or f"The run is {view['state']}.", failure.get("advice"))
        return self

    def verdicts(self):
        """Requirements with what came of them."""
        return self.bench.call("GET", f"/api/runs/{self.id}")["verdicts"]

    def measure(self, expression):
        """A figure of the run: measure("maximum('lift pressure')"), in SI units."""
        told = self.bench.call("GET", f"/api/runs/{self.id}/measure", query={"expression": expression})
        if told.get("problem"):
            raise Problem(422, told["problem"])
        return told["value"]

    def table(self, *references, every=None):
        """Signals as a list of rows; the first one names the columns. every: distance of the points, s."""
        text = self.bench.call(
            "GET", f"/api/runs/{self.id}/table", query={"signal": list(references), "form": "csv", "every": every}
        )
        rows = list(csv.reader(io.StringIO(text.decode("utf-8-sig"))))
        return rows[:1] + [[float(value) for value in row] for row in rows[1:]]


class Play(Run):
    """A run that is let go, paused, and given other values by hand."""

    def view(self):
        return self.bench.call("GET", f"/api/runs/{self.id}")

    def go(self, time=None, condition=None, pace=None):
        """Lets it go on to a time, until a condition holds, or to its end, and waits for that. pace: simulated over real time, as fast as
        it goes without it. Returns the time that it has come to."""
        body = {"pace": pace, "time": time, "step": None, "clock": None, "condition": condition, "stops": []}
        self.bench.call("POST", f"/api/runs/{self.id}/go", body)
        while True:
            view = self.view()
            if view["state"] != "running":
                break
            sleep(0.02)
        failure = view.get("failure")
        if failure:
            raise Problem(422, failure["message"], failure.get("advice"))
        return view["reached"]

    def set(self, part, parameter, value):
        """Another value from this instant on; the part by ids, empty for the model itself."""
        self.bench.call("POST", f"/api/runs/{self.id}/set", {"part": part, "parameter": parameter, "value": value})

    def hand_over(self, unit):
        """Has another unit of the target, by its number from 1, take over at the next step."""
        self.set(self.target()["part"], "target_unit", str(unit))

    def target(self):
        """The target: its units with the costs of their steps, which one has the plant, and hand-overs."""
        return self.bench.call("GET", f"/api/runs/{self.id}/target")

    def stop(self):
        """Ends it where it is; it stays to be looked at."""
        self.bench.call("POST", f"/api/runs/{self.id}/stop")
