using System.Globalization;
using AnchorBend.Compiler.Lowering;
using AnchorBend.Language.Terms;
using AnchorBend.Modeling.Flat;
using AnchorBend.Simulation.Grid;

namespace AnchorBend.Delivery;

/// <summary>The functions of the source.</summary>
sealed partial class CWriter
{
    string Literal(double value) => CPlaces.Literal(value, unit.Request.IsFloat);

    CodeFile Source(CodeFile bodies)
    {
        var file = new CFile();
        file.Comment($"{unit.Name}: {Pace()}. Written from the model; changes here are lost when it is written again.");
        foreach (var condition in unit.Unchecked)
            file.Comment($"A run of the model ends where this does not hold; here nothing looks at it: {condition}");
        file.Line($"#include \"{prefix}.h\"");
        file.Line("#include <math.h>");
        file.Blank();
        foreach (var (name, parameter, value) in places.Constants)
        {
            var about = About(parameter);
            file.Line($"static const {real} {name} = {Literal(value)};" + (about.Length > 0 ? $" /* {CFile.Said(about)} */" : ""));
        }

        foreach (var (place, (name, count)) in places.Tables.OrderBy(t => t.Key))
        {
            Row(file, name + "_x", place, count);
            Row(file, name + "_y", place + count, count);
        }

        if (places.Constants.Count + places.Tables.Count > 0)
            file.Blank();
        foreach (var (name, text) in CHelpers.All.Where(h => helpers.Contains(h.Name)))
        {
            foreach (var line in CHelpers.Of(text, unit.Request.IsFloat).Split('\n'))
                file.Line(line);
            file.Blank();
        }

        DeriveFunction(file);
        file.Append(bodies);
        return file.Done(prefix + ".c");
    }

    void Row(CFile file, string name, int place, int count)
    {
        var evaluator = new TermEvaluator(i => unit.Parameters.Values[i]);
        var values = Enumerable.Range(place - Layout.HoistBase, count).Select(i => Literal(evaluator.Evaluate(Layout.Hoisted[i])));
        file.Line($"static const {real} {name}[{count}] = {{ {string.Join(", ", values)} }};");
    }

    void Bodies(CFile file)
    {
        foreach (var loop in Enumerable.Range(0, functions.Loops.Count))
            Loop(file, loop);
        if (functions.NeedsSlopes && !IsFlow)
            Function(file, "slopes", "Slopes of what is integrated.", functions.Slopes, Decision.Held);
        if (!once)
        {
            Function(file, "evaluate", "All values at the beginning of a step.", functions.Evaluate, Decision.Anew);
            Settle(file);
        }

        if (HasParameters)
            Defaults(file);
        StartFunction(file);
        if (IsFlow)
            FlowFunctions(file);
        else
            StepFunction(file);
    }

    /// <summary>Arguments of the functions that evaluate at any time and state.</summary>
    string Evaluating => Arguments() + $", {real} t" + (HasStates ? $", const {prefix}_continuous *x, {prefix}_continuous *dx" : "");

    void Function(CFile file, string name, string what, CBody body, Decision decides)
    {
        var inner = new CFile(1);
        Print(inner, body, decides, "x->", "dx->");
        Unit(file, $"static void {prefix}_{name}({Evaluating})", what, inner);
    }

    /// <summary>A function with what its body left unused said so.</summary>
    static void Unit(CFile file, string head, string? what, CFile body)
    {
        if (what is not null)
            file.Comment(what);
        file.Line(head);
        file.Open("{");
        var written = body.Done("");
        foreach (var argument in head[(head.IndexOf('(') + 1)..head.LastIndexOf(')')].Split(", "))
        {
            var name = argument[(argument.LastIndexOfAny([' ', '*']) + 1)..];
            if (!Uses(written.Text, name))
                file.Line($"(void){name};");
        }

        file.Append(written);
        file.Close();
        file.Blank();
    }

    static bool Uses(string text, string name) => System.Text.RegularExpressions.Regex.IsMatch(text, $@"(?<![\w>.]){name}(?!\w)");

    void Print(CFile file, CBody body, Decision decides, string states, string slopes) =>
        new CStatements(this, file, body, decides, states, slopes).Print();

    string Asking => loopsDecide ? ", bool decides" : "";

    void Loop(CFile file, int number)
    {
        var (residuals, jacobian) = functions.Loops[number];
        var torn = unit.Program.Loops[number].Torn;
        var n = torn.Length;
        var count = (number + 1).ToString(CultureInfo.InvariantCulture);
        foreach (var (name, body, size) in new[] { ("residuals", residuals, n), ("jacobian", jacobian, n * n) })
        {
            var inner = new CFile(1);
            Print(inner, body, loopsDecide ? Decision.Asked : Decision.Held, "x->", "dx->");
            Unit(file, $"static void {prefix}_{name}_{count}({Evaluating}{Asking}, {real} *r)", null, inner);
        }

        helpers.Add("eliminate");
        var passed = Passed + ", t" + (HasStates ? ", x, dx" : "") + (loopsDecide ? ", decides" : "");
        var solve = new CFile(1);
        solve.Line($"{real} r[{n}];");
        solve.Line($"{real} a[{n * n}];");
        solve.Line("bool solved = false;");
        solve.Line("bool goes = true;");
        if (IsFlow)
            solve.Line($"{real} last = INFINITY;");
        solve.Line("uint32_t n;");
        solve.Blank();
        solve.Open($"for (n = 0U; (n < {GridRun.MostNewtonSteps}U) && goes; n++) {{");
        solve.Line($"{real} largest = {Literal(0)};");
        solve.Blank();
        solve.Line($"{prefix}_residuals_{count}({passed}, r);");
        solve.Line($"{prefix}_jacobian_{count}({passed}, a);");
        solve.Line($"goes = eliminate(a, r, {n}U);");
        solve.Open("if (goes) {");
        for (var i = 0; i < n; i++)
        {
            var place = SpaceOf(torn[i]) switch
            {
                Space.States => "x->" + StateName(unit.Plan.StateSlot[torn[i]]),
                Space.Derivatives => "dx->" + StateName(unit.Plan.DerivativeSlot[torn[i]]),
                _ => "s->" + Field(torn[i]),
            };
            solve.Line($"{place} -= r[{i}];");
            helpers.Add("greatest");
            solve.Line($"largest = greatest({Fabs}(r[{i}]) / ({Literal(1)} + {Fabs}({place})), largest);");
        }

        solve.Open($"if (largest <= {Literal(GridRun.Solved)}) {{");
        solve.Line($"{prefix}_residuals_{count}({passed}, r);");
        solve.Line("solved = true;");
        solve.Line("goes = false;");
        solve.Close();
        if (IsFlow)
            solve.Line("last = largest;");
        solve.Close();
        solve.Close();
        if (IsFlow)
        {
            solve.Comment("What moves this little after all these steps is moved by rounding.");
            solve.Open($"if (!solved && (last <= {Literal(Rounded)})) {{");
            solve.Line($"{prefix}_residuals_{count}({passed}, r);");
            solve.Line("solved = true;");
            solve.Close();
        }

        solve.Open("if (!solved) {");
        solve.Line("s->unsolved++;");
        solve.Close();
        Unit(
            file,
            $"static void {prefix}_solve_{count}({Evaluating}{Asking})",
            $"Solves for {string.Join(", ", torn.Select(Told))} by Newton's method, in " + $"{GridRun.MostNewtonSteps} steps at most.",
            solve
        );
    }

    /// <summary>The root of what a number of 64 bits rounds by.</summary>
    const double Rounded = 1.4901161193847656e-8;

    /// <summary>Slopes that index reduction has added have no name in the model.</summary>
    string Told(int place) =>
        place < unit.Model.Variables.Count ? CodeUnit.PathWithin(unit.Model.Variables[place].Name) : places.NameOf(place);

    string Fabs => unit.Request.IsFloat ? "fabsf" : "fabs";

    void Settle(CFile file)
    {
        var body = new CFile(1);
        body.Line("bool changed = true;");
        body.Line("uint32_t n;");
        body.Blank();
        body.Open($"for (n = 0U; n < {GridRun.MostEvaluations}U; n++) {{");
        body.Line($"{prefix}_evaluate({Passed}, t{(HasStates ? ", &s->x, dx" : "")});");
        body.Line("changed = s->initial;");
        Reinits(body);
        body.Line("s->initial = false;");
        foreach (var clock in WaitingClocks)
            body.Line($"s->{places.TickOf(clock)} = false;");
        for (var d = 0; d < unit.Plan.Discretes.Length; d++)
        {
            if (!kept.Contains(Layout.PreviousBase + d))
                continue;
            var (now, before) = ("s->" + Field(unit.Plan.Discretes[d]), "s->" + Field(Layout.PreviousBase + d));
            body.Open($"if ({now} != {before}) {{");
            body.Line($"{before} = {now};");
            body.Line("changed = true;");
            body.Close();
        }

        body.Open("if (!changed && (n > 0U)) {");
        body.Line("break;");
        body.Close();
        body.Close();
        body.Open("if (changed) {");
        body.Line("s->unsettled++;");
        body.Close();
        Unit(
            file,
            $"static void {prefix}_settle({Arguments()}, {real} t{(HasStates ? $", {prefix}_continuous *dx" : "")})",
            $"Decides until nothing changes any more, in {GridRun.MostEvaluations} evaluations at most.",
            body
        );
    }

    void Reinits(CFile body)
    {
        for (var r = 0; r < unit.Plan.Reinits.Count; r++)
        {
            var reinit = unit.Plan.Reinits[r];
            body.Line($"const bool set_{r + 1} = {Asked(reinit.Condition, true)};");
            body.Line($"const {real} to_{r + 1} = {Asked(reinit.Value, false)};");
        }

        for (var r = 0; r < unit.Plan.Reinits.Count; r++)
        {
            body.Open($"if (set_{r + 1}) {{");
            body.Line($"s->x.{StateName(unit.Plan.StateSlot[unit.Plan.Reinits[r].State])} = to_{r + 1};");
            body.Line("changed = true;");
            body.Close();
        }
    }

    /// <summary>A term as an expression, with values as they are kept.</summary>
    string Asked(Term term, bool isTruth)
    {
        if (unit.Program.Terms([term]).Body is not [ResultStatement result])
            throw new DeliveryException("term", "A condition is too involved for C.", "Name parts of it as variables.");
        var printer = new CPrinter(unit, places, p => Read(p, "s->x.", "dx->"), _ => ("", false))
        {
            Derive = Derive,
            Kept = h => relations.Contains(h.Place) ? "s->" + Field(h.Place) : null,
        };
        var text = isTruth ? printer.Truth(result.Value) : printer.Value(result.Value);
        Take(printer);
        return text;
    }

    void Take(CPrinter printer) => helpers.UnionWith(printer.Helpers);

    void Defaults(CFile file)
    {
        var body = new CFile(1);
        foreach (var (name, port) in places.Tunable)
            body.Line($"p->{name} = {Literal(unit.Parameters.Values[port.Variable.Index])};");
        Unit(file, $"void {prefix}_defaults({prefix}_parameters *p)", null, body);
    }

    void StartFunction(CFile file)
    {
        var body = new CFile(1);
        foreach (var i in States)
            body.Line($"s->x.{StateName(i)} = {(unit.Starts is { } found ? Literal(found[i]) : Begin(unit.Plan.States[i], false))};");
        foreach (var place in kept.Order())
        {
            var isBoolean = places.IsBoolean(place);
            var value =
                place >= Layout.RelationBase ? (isBoolean ? "false" : Literal(0))
                : place >= Layout.PreviousBase ? Begin(unit.Plan.Discretes[place - Layout.PreviousBase], isBoolean)
                : Begin(place, isBoolean);
            body.Line($"s->{Field(place)} = {value};");
        }

        foreach (var clock in WaitingClocks)
        {
            body.Line(
                IsFlow ? $"s->{TicksOf(clock)} = 0U;" : FormattableString.Invariant($"s->{WaitOf(clock)} = {unit.Clocks[clock].First}U;")
            );
            if (!once)
                body.Line($"s->{places.TickOf(clock)} = false;");
        }

        if (!once)
        {
            body.Line("s->initial = false;");
            body.Line("s->unsettled = 0U;");
        }

        if (functions.Loops.Count > 0)
            body.Line("s->unsolved = 0U;");
        startBody = body;
        startAt = file;
    }

    CFile? startBody,
        startAt;

    /// <summary>Written last, as only then it is known whether steps are counted.</summary>
    void FinishStart()
    {
        if (CountsSteps && !IsFlow)
            startBody!.Line("s->count = 0U;");
        else if (startBody!.IsEmpty && derived.Count == 0)
            startBody.Line("s->unused = 0U;");
        var body = new CFile(1);
        DeriveFirst(body);
        body.Append(startBody!.Done(""));
        Unit(startAt!, $"void {prefix}_start({Start()})", null, body);
    }

    /// <summary>What a variable begins with.</summary>
    string Begin(int place, bool isBoolean)
    {
        if (place >= unit.Model.Variables.Count || place >= unit.Parameters.Starts.Length)
            return isBoolean ? "false" : Literal(0);
        if (unit.Model.Variables[place].Start is { } start && !HasNumber(start))
            return Asked(start, isBoolean);
        var value = unit.Parameters.Starts[place];
        return isBoolean ? (value != 0 ? "true" : "false") : Literal(value);
    }

    bool HasNumber(Term term) => term is VariableTerm v ? places.Number(v.Index) is not null : term.Operands.ToArray().All(HasNumber);

    void StepFunction(CFile file)
    {
        var body = new CFile(1);
        if (once)
        {
            var inner = new CFile(1);
            if (HasStates)
                inner.Line($"{prefix}_continuous k1;");
            Ticks(inner);
            Print(inner, functions.Evaluate, Decision.Anew, "s->x.", "k1.");
            for (var d = 0; d < unit.Plan.Discretes.Length; d++)
                if (kept.Contains(Layout.PreviousBase + d) && Local(unit.Plan.Discretes[d]))
                    inner.Line($"s->{Field(Layout.PreviousBase + d)} = {places.NameOf(unit.Plan.Discretes[d])};");
            Outputs(inner);
            Integrate(inner);
            var written = inner.Done("");
            if (countsTime = Uses(written.Text, "t"))
                body.Line($"const {real} t = ({real})s->count * {Literal(unit.Request.Step)};");
            DeriveFirst(body);
            body.Append(written);
            if (countsTime)
                body.Line("s->count++;");
        }
        else
        {
            body.Line($"const {real} t = ({real})s->count * {Literal(unit.Request.Step)};");
            if (HasStates)
                body.Line($"{prefix}_continuous k1;");
            body.Blank();
            DeriveFirst(body);
            var slope = HasStates ? ", &k1" : "";
            body.Open("if (s->count == 0U) {");
            body.Line("s->initial = true;");
            body.Line($"{prefix}_settle({Passed}, t{slope});");
            body.Close();
            Ticks(body);
            body.Line($"{prefix}_settle({Passed}, t{slope});");
            Outputs(body);
            Integrate(body);
            body.Line("s->count++;");
        }

        FinishStart();
        Unit(file, $"void {prefix}_step({Arguments()}, {prefix}_outputs *y)", null, body);
    }

    bool Local(int discrete) => !kept.Contains(discrete) && SpaceOf(discrete) == Space.Memory;

    void Ticks(CFile file)
    {
        foreach (var clock in WaitingClocks)
        {
            var wait = "s->" + WaitOf(clock);
            file.Line(once ? $"const bool {places.TickOf(clock)} = ({wait} == 0U);" : $"s->{places.TickOf(clock)} = ({wait} == 0U);");
            file.Open($"if ({wait} == 0U) {{");
            file.Line(FormattableString.Invariant($"{wait} = {unit.Clocks[clock].Every}U;"));
            file.Close();
            file.Line($"{wait}--;");
        }
    }

    void Outputs(CFile file, string slopes = "k1.")
    {
        foreach (var (name, port) in places.Outputs)
        {
            var place = unit.Plan.Representative[port.Variable.Index];
            var space = SpaceOf(place);
            var code = new PlaceCode(
                space,
                space switch
                {
                    Space.States => unit.Plan.StateSlot[place],
                    Space.Derivatives => unit.Plan.DerivativeSlot[place],
                    _ => place,
                }
            );
            var printer = new CPrinter(unit, places, p => Read(p, "s->x.", slopes), _ => ("", false)) { Derive = Derive };
            var value = Type(port.Variable) switch
            {
                "bool" => printer.Truth(code),
                "int32_t" => $"(int32_t){printer.Value(code)}",
                _ => printer.Value(code),
            };
            Take(printer);
            file.Line($"y->{name} = {value};");
        }
    }

    void Integrate(CFile file)
    {
        if (!HasStates)
            return;
        var h = unit.Request.Step;
        file.Blank();
        void Each(Func<string, string> line)
        {
            foreach (var i in States)
                file.Line(line(StateName(i)));
        }

        void Slope(string at, string into) => file.Line($"{prefix}_slopes({Passed}, t{at}, &trial, &{into});");
        string Plus(double by) => $" + {Literal(by)}";
        switch (unit.Request.Method)
        {
            case GridMethod.Euler:
                Each(x => $"s->x.{x} += {Literal(h)} * k1.{x};");
                return;
            case GridMethod.Heun:
                file.Open("{");
                file.Line($"{prefix}_continuous trial;");
                file.Line($"{prefix}_continuous k2;");
                file.Blank();
                Each(x => $"trial.{x} = s->x.{x} + ({Literal(h)} * k1.{x});");
                Slope(Plus(h), "k2");
                Each(x => $"s->x.{x} += {Literal(h / 2)} * (k1.{x} + k2.{x});");
                file.Close();
                return;
            default:
                file.Open("{");
                foreach (var name in (string[])["trial", "k2", "k3", "k4"])
                    file.Line($"{prefix}_continuous {name};");
                file.Blank();
                Each(x => $"trial.{x} = s->x.{x} + ({Literal(h / 2)} * k1.{x});");
                Slope(Plus(h / 2), "k2");
                Each(x => $"trial.{x} = s->x.{x} + ({Literal(h / 2)} * k2.{x});");
                Slope(Plus(h / 2), "k3");
                Each(x => $"trial.{x} = s->x.{x} + ({Literal(h)} * k3.{x});");
                Slope(Plus(h), "k4");
                Each(x => $"s->x.{x} += {Literal(h / 6)} * (k1.{x} + ({Literal(2)} * (k2.{x} + k3.{x})) + k4.{x});");
                file.Close();
                return;
        }
    }
}
