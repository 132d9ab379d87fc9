using System.Globalization;
using System.Text;
using System.Text.Json;
using AnchorBend.Language.Syntax;
using AnchorBend.Modeling.Documents;

namespace AnchorBend.Modeling.Valves;

/// <summary>
/// Writes the class that a valve comes to. Each path is an orifice; its opening follows how near the spool is to the position that the
/// path belongs to. Flow forces are the steady ones of jets, 2 C A Δp cos θ towards the neutral position (Merritt, "Hydraulic Control
/// Systems", section 5-6); gases are choked beyond a share of their inlet pressure (IEC 60534-2-1).
/// </summary>
sealed class ValveWriter(ValveDefinition valve)
{
    readonly StringBuilder text = new();

    readonly List<(string Id, ValvePathNode Path, string Position, int At)> paths = [.. valve.Paths()];

    /// <summary>Density that nominal flows of gases are told at: 1 bar and 20 °C (ISO 8778), kg/m3.</summary>
    const double NormalDensity = 1.185;

    /// <summary>Room above and below the symbol, where the names of ports stand on a part.</summary>
    const double NamesOfPorts = 24;

    bool IsGas => valve.Medium == ValveMedium.Pneumatic;

    bool IsPiloted => valve.Actuation is Actuation.Pilot or Actuation.PilotOneSide;

    void Line(string line) => text.Append(line).Append('\n');

    static string N(double value) => value.ToString("R", CultureInfo.InvariantCulture);

    static string Name(string name) => ExpressionText.Name(name);

    static string Said(string words) => $"\"{words.Replace("\\", "\\\\").Replace("\"", "\\\"")}\"";

    string Port(string id) =>
        valve.Ports.TryGetValue(id, out var port)
            ? Name(port.Name)
            : throw new DocumentException($"A path of the valve '{valve.Name}' leads to a port that is gone. Delete it.");

    string Way(int i) => $"{ValveWords.Way(valve, paths[i].Path)}, {valve.Positions[paths[i].Position].Name}";

    double Read(string typed, string unit, string what, bool positive = true) =>
        ValveNumbers.Of(typed, unit, $"{what} of the valve '{valve.Name}'", positive);

    public string Write()
    {
        if (valve.Ports.Count < ValveLimits.LeastPorts || valve.Positions.Count < 1)
            throw new DocumentException($"The valve '{valve.Name}' needs two ports and one position at least.");
        if (!valve.Positions.ContainsKey(valve.Neutral))
            throw new DocumentException($"The neutral position of the valve '{valve.Name}' is gone. Choose another one.");
        var taken = new HashSet<string>(["stroke", "u", "x", "y"]);
        foreach (var port in valve.Ports.Values)
            if (!taken.Add(port.Name))
                throw new DocumentException(
                    $"The valve '{valve.Name}' has two ports '{port.Name}', or one that is called as its command is."
                );
        foreach (var (_, path, _, _) in paths)
            if (path.From == path.To)
                throw new DocumentException($"A path of the valve '{valve.Name}' joins a port with itself. Delete it.");
        var what = $"Directional valve: {valve.Ports.Count} ports, {valve.Positions.Count} positions";
        Line($"model {Name(valve.Name)} {Said(valve.Description is { Length: > 0 } told ? told : what)}");
        Ports();
        for (var i = 0; i < paths.Count; i++)
            Line(
                $"parameter Real {Name($"nominal flow {i + 1}")}(unit = \"m3/s\", displayUnit = \"l/min\", min = 0)"
                    + $" = {N(Read(paths[i].Path.Flow, "m3/s", "The nominal flow"))} {Said($"Nominal flow {Way(i)}")};"
            );
        Line("protected");
        Numbers();
        Line("equation");
        Command();
        for (var i = 0; i < paths.Count; i++)
            Flow(i);
        Sums();
        Line(Annotation());
        Line($"end {Name(valve.Name)};");
        return text.ToString();
    }

    void Ports()
    {
        var connector = IsGas ? "FluidPort" : "HydraulicPort";
        foreach (var (_, port) in valve.OrderedPorts)
            Line(
                $"{connector} {Name(port.Name)} {Said(port.Description ?? "")}"
                    + $" annotation(__AnchorBend(side = \"{(port.Side == PortSide.Top ? "top" : "bottom")}\"));"
            );
        if (!IsPiloted)
            Line(
                $"input Real u(unit = \"1\") \"{(valve.Actuation == Actuation.Lever ? "Lever" : "Command")}, −1 to 1\""
                    + " annotation(__AnchorBend(side = \"left\"));"
            );
        else
        {
            Line($"{connector} x \"Pilot pressure that moves it towards the first positions\" annotation(__AnchorBend(side = \"left\"));");
            if (valve.Actuation == Actuation.Pilot)
                Line(
                    $"{connector} y \"Pilot pressure that moves it towards the last positions\" annotation(__AnchorBend(side = \"right\"));"
                );
        }
    }

    void Numbers()
    {
        var density = IsGas ? N(NormalDensity) : $"{Name(valve.OrderedPorts.First().Value.Name)}.rho";
        Line("constant Real pi = 3.141592653589793;");
        if (IsGas)
            Line("constant Real small(unit = \"kg/s\") = 1e-6 \"Flow below which mixtures are evened out\";");
        Line($"parameter Real rho(unit = \"kg/m3\") = {density} \"Density that nominal flows are told at\";");
        Line($"parameter Real cd(unit = \"1\") = {N(Read(valve.Discharge, "1", "The discharge coefficient"))};");
        Line($"parameter Real leakage(unit = \"m3/s\") = {N(Read(valve.Leakage, "m3/s", "The leakage", false))};");
        Line($"parameter Real leakageDrop(unit = \"Pa\") = {N(Read(valve.LeakageDrop, "Pa", "The drop of the leakage"))};");
        Line("parameter Real leak(unit = \"m2\") = leakage / (cd * sqrt(2 * leakageDrop / rho));");
        for (var i = 0; i < paths.Count; i++)
        {
            var path = paths[i].Path;
            var n = i + 1;
            Line($"parameter Real drop{n}(unit = \"Pa\") = {N(Read(path.Drop, "Pa", "The nominal drop"))};");
            Line(
                $"parameter Real largest{n}(unit = \"m2\", displayUnit = \"mm2\")"
                    + $" = {Name($"nominal flow {n}")} / (cd * sqrt(2 * drop{n} / rho));"
            );
            if (path.Kind == PathKind.Orifice)
                Line($"parameter Real orifice{n}(unit = \"m\", displayUnit = \"mm\") = {N(Read(path.Diameter, "m", "The orifice"))};");
            if (path.Kind == PathKind.Check)
                Line(
                    $"parameter Real cracking{n}(unit = \"Pa\", displayUnit = \"bar\")"
                        + $" = {N(Math.Max(1, Read(path.Cracking, "Pa", "The cracking pressure", false)))};"
                );
            Line($"Real open{n}(unit = \"1\") {Said($"Opening {Way(i)}")};");
            Line($"Real area{n}(unit = \"m2\", displayUnit = \"mm2\");");
            Line($"Real fall{n}(unit = \"Pa\", displayUnit = \"bar\", nominal = 1e5) {Said($"Pressure drop {Way(i)}")};");
            Line(
                IsGas
                    ? $"Real {Name($"flow {n}")}(unit = \"kg/s\", nominal = 1e-2) {Said($"Flow {Way(i)}")};"
                    : $"Real {Name($"flow {n}")}(unit = \"m3/s\", displayUnit = \"l/min\", nominal = 1e-4) {Said($"Flow {Way(i)}")};"
            );
            if (IsGas)
                Line($"Real highest{n}(unit = \"Pa\", start = 1e5, nominal = 1e5); Real share{n}(unit = \"1\");");
        }

        Line("Real command(unit = \"1\") \"Where the spool is wanted\";");
        switch (valve.Dynamics)
        {
            case ValveDynamics.None:
                Line("Real stroke(unit = \"1\") \"Stroke of the spool\";");
                break;
            case ValveDynamics.Lag:
                Line($"parameter Real lag(unit = \"s\") = {N(Read(valve.Lag, "s", "The lag"))};");
                Line("Real stroke(unit = \"1\", start = 0, fixed = true) \"Stroke of the spool\";");
                break;
            case ValveDynamics.SecondOrder:
                Line($"parameter Real w0(unit = \"rad/s\") = 2 * pi * frequency;");
                Line($"parameter Real frequency(unit = \"Hz\") = {N(Read(valve.Frequency, "Hz", "The natural frequency"))};");
                Line($"parameter Real damping(unit = \"1\") = {N(Read(valve.Damping, "1", "The damping"))};");
                Line("Real stroke(unit = \"1\", start = 0, fixed = true) \"Stroke of the spool\";");
                Line("Real speed(unit = \"1/s\", start = 0, fixed = true);");
                break;
            default:
                Line($"parameter Real full(unit = \"m\", displayUnit = \"mm\") = {N(Read(valve.Stroke, "m", "The stroke"))};");
                Line($"parameter Real mass(unit = \"kg\") = {N(Read(valve.Mass, "kg", "The mass"))};");
                Line($"parameter Real spring(unit = \"N/m\") = {N(Read(valve.Spring, "N/m", "The spring"))};");
                Line($"parameter Real friction(unit = \"N.s/m\") = {N(Read(valve.Friction, "N.s/m", "The friction", false))};");
                Line($"parameter Real angle(unit = \"rad\") = {N(Read(valve.JetAngle, "rad", "The angle of the jets"))};");
                Line("Real stroke(unit = \"1\") \"Stroke of the spool\";");
                Line("Real at(unit = \"m\", displayUnit = \"mm\", start = 0, fixed = true, nominal = 1e-3) \"Place of the spool\";");
                Line("Real speed(unit = \"m/s\", start = 0, fixed = true);");
                Line("Real jets(unit = \"N\") \"Force of the jets\";");
                break;
        }

        if (IsPiloted)
            Line(
                "parameter Real fullPressure(unit = \"Pa\", displayUnit = \"bar\")"
                    + $" = {N(Read(valve.FullPressure, "Pa", "The pilot pressure"))};"
            );
        if (IsGas)
            foreach (var (_, port) in valve.OrderedPorts)
                Line($"Real {Name($"density {port.Name}")}(unit = \"kg/m3\", start = 1, nominal = 1);");
    }

    void Command()
    {
        var positions = valve.OrderedPositions;
        var (low, high) = (N(valve.PlaceOf(0)), N(valve.PlaceOf(positions.Count - 1)));
        var wanted = valve.Actuation switch
        {
            Actuation.Pilot => "(x.p - y.p) / fullPressure",
            // Pressure at one end pushes towards the side on which there are positions.
            Actuation.PilotOneSide => $"{(valve.PlaceOf(positions.Count - 1) > 0 ? "" : "-")}x.p / fullPressure",
            _ => "u",
        };
        Line($"command = noEvent(max({low}, min({high}, {wanted})));");
        switch (valve.Dynamics)
        {
            case ValveDynamics.None:
                Line("stroke = command;");
                break;
            case ValveDynamics.Lag:
                Line("lag * der(stroke) = command - stroke;");
                break;
            case ValveDynamics.SecondOrder:
                Line("der(stroke) = speed;");
                Line("der(speed) = w0 ^ 2 * (command - stroke) - 2 * damping * w0 * speed;");
                break;
            default:
                Line("stroke = at / full;");
                Line("der(at) = speed;");
                Line(
                    "mass * der(speed) = spring * (full * command - at) - friction * speed + jets"
                        + $" - 100 * spring * noEvent(max(0, at - {high} * full) + min(0, at - ({low}) * full));"
                );
                var pulls = paths
                    .Select((p, i) => (Place: valve.PlaceOf(p.At), N: i + 1))
                    .Where(p => p.Place != 0)
                    .Select(p => $"{(p.Place > 0 ? "-" : "+")} 2 * cd * area{p.N} * noEvent(abs(fall{p.N})) * cos(angle)")
                    .ToList();
                Line(valve.HasJets && pulls.Count > 0 ? $"jets = 0 {string.Join(" ", pulls)};" : "jets = 0;");
                break;
        }

        if (IsPiloted)
            foreach (var pilot in valve.Actuation == Actuation.Pilot ? (string[])["x", "y"] : ["x"])
                Line(IsGas ? $"{pilot}.m = 0; {pilot}.h = inStream({pilot}.h); {pilot}.c = inStream({pilot}.c);" : $"{pilot}.q = 0;");
    }

    void Flow(int i)
    {
        var (path, n) = (paths[i].Path, i + 1);
        var (from, to) = (Port(path.From), Port(path.To));
        Line($"open{n} = {Opening(i)};");
        Line($"fall{n} = {from}.p - {to}.p;");
        var area = $"largest{n} * open{n} + leak";
        if (path.Kind == PathKind.Check)
            area = $"largest{n} * open{n} * noEvent(max(0, min(1, (fall{n} - cracking{n}) / cracking{n}))) + 1e-3 * leak";
        Line(
            path.Kind == PathKind.Orifice
                ? $"area{n} = 1 / sqrt(1 / ({area}) ^ 2 + 1 / (pi / 4 * orifice{n} ^ 2) ^ 2);"
                : $"area{n} = {area};"
        );
        if (!IsGas)
        {
            Line($"{Name($"flow {n}")} = orificeFlow(fall{n}, area{n}, cd, {from}.rho, {from}.nu, 12);");
            return;
        }

        Line($"highest{n} = noEvent(max({from}.p, {to}.p));");
        Line($"share{n} = noEvent(min(abs(fall{n}) / highest{n}, 0.7)) / 0.7;");
        var (first, second) = (Name($"density {valve.Ports[path.From].Name}"), Name($"density {valve.Ports[path.To].Name}"));
        Line(
            $"{Name($"flow {n}")} = (1 - share{n} / 3)"
                + $" * lossFlow(fall{n} * noEvent(min(1, 0.7 * highest{n} / max(abs(fall{n}), 1e-3 * highest{n}))),"
                + $" cd * area{n}, 1, {first}, {second}, 10);"
        );
    }

    /// <summary>How far a path is open, from how near the spool is to its position.</summary>
    string Opening(int i)
    {
        var path = paths[i].Path;
        var place = N(valve.PlaceOf(paths[i].At));
        // From 0 at the neighbouring position to 1 at its own.
        var near = $"(1 - noEvent(abs(stroke - ({place}))) / {N(valve.Step)})";
        if (valve.Positions.Count == 1)
            return "1";
        var points = ValveNumbers.Opening(path, valve.Transition);
        var line = new StringBuilder($"noEvent(if {near} <= {N(points[0].X)} then {N(points[0].Y)}");
        for (var k = 1; k < points.Count; k++)
        {
            var ((x0, y0), (x1, y1)) = (points[k - 1], points[k]);
            line.Append($" elseif {near} <= {N(x1)} then {N(y0)} + {N((y1 - y0) / (x1 - x0))} * ({near} - ({N(x0)}))");
        }

        return line.Append($" else {N(points[^1].Y)})").ToString();
    }

    void Sums()
    {
        foreach (var (id, port) in valve.OrderedPorts)
        {
            var here = paths.Select((p, i) => (p.Path, N: i + 1)).Where(p => p.Path.From == id || p.Path.To == id).ToList();
            var sum = string.Join(" ", here.Select(p => $"{(p.Path.From == id ? "+" : "-")} {Name($"flow {p.N}")}"));
            var name = Name(port.Name);
            Line($"{name}.{(IsGas ? "m" : "q")} = 0 {sum};");
            if (!IsGas)
                continue;
            Line($"{Name($"density {port.Name}")} = fluidDensity({name}.medium, {name}.share, {name}.p, inStream({name}.h));");
            if (here.Count == 0)
            {
                Line($"{name}.h = inStream({name}.h); {name}.c = inStream({name}.c);");
                continue;
            }

            // What leaves here is the mixture of what flows here; where nothing flows, of all that could.
            string Weight((ValvePathNode Path, int N) p)
            {
                var towards = $"{(p.Path.From == id ? "-" : "")}{Name($"flow {p.N}")}";
                return $"(0.5 * ({towards} + sqrt({Name($"flow {p.N}")} ^ 2 + small ^ 2)) + small)";
            }

            string Other((ValvePathNode Path, int N) p) => Port(p.Path.From == id ? p.Path.To : p.Path.From);
            var weights = string.Join(" + ", here.Select(Weight));
            Line($"{name}.h = ({string.Join(" + ", here.Select(p => $"{Weight(p)} * inStream({Other(p)}.h)"))}) / ({weights});");
            Line($"for k in 1:{name}.traces loop");
            Line($"{name}.c[k] = ({string.Join(" + ", here.Select(p => $"{Weight(p)} * inStream({Other(p)}.c[k])"))}) / ({weights});");
            Line("end for;");
        }

        var first = Name(valve.OrderedPorts.First().Value.Name);
        foreach (var (_, port) in valve.OrderedPorts.Skip(1))
            Line($"Connections.branch({first}, {Name(port.Name)});");
    }

    string Annotation()
    {
        var symbol = new ValveSymbol(valve);
        var face = JsonSerializer.Serialize(new FaceNode { Picture = symbol.Picture() }, DocumentJson.Options(false));
        return $"annotation(__AnchorBend(group = \"Valves\", width = {N(symbol.Width + 12)}, height = {N(symbol.Height + NamesOfPorts)},"
            + $" keywords = \"directional valve spool\", face = {{{Said(face)}}}, help = {Said(Help())},"
            + " validity = \"Sharp edges; the spool opens paths by how near it is to their position; no cavitation.\"));";
    }

    string Help() =>
        string.Join(
            " ",
            valve
                .OrderedPositions.Select(p => $"{p.Value.Name}: {ValveWords.Of(valve, p.Value)}")
                .Append(ValveWords.Between(valve))
                .Where(words => words is not null)
        );
}
