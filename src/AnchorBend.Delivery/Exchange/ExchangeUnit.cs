using System.Globalization;
using System.Security.Cryptography;
using System.Text;

namespace AnchorBend.Delivery.Exchange;

/// <summary>
/// A unit as an exchange unit of the open standard FMI (2.0 and 3.0): its C code, a layer between that and the standard's functions, what
/// it says of itself, and a program for Linux on x86-64. For co-simulation it makes steps of its own length, whatever the importer's are;
/// outputs at a communication point are those with the inputs as they are then. For model exchange the importer integrates its states and
/// finds its events.
/// </summary>
public static class ExchangeUnit
{
    /// <param name="version">2.0 or 3.0.</param>
    /// <param name="end">Where a run ends by default, s; null for none.</param>
    /// <returns>The archive; the same unit gives the same bytes by the same compiler.</returns>
    /// <exception cref="DeliveryException">It does not compile; there is no compiler.</exception>
    public static (string Name, byte[] Bytes) Pack(CodeUnit unit, string version, double? end, CancellationToken wanted) =>
        (CNames.Small(unit.Name) + ".fmu", PackedFiles.Of(Files(unit, version, end, wanted)));

    static List<(string, byte[])> Files(CodeUnit unit, string version, double? end, CancellationToken wanted)
    {
        var isThird = version == "3.0";
        var (written, flow) = unit.Request.IsSolvedOutside ? CWriter.Flow(unit) : (CWriter.Write(unit), null);
        var identifier = Path.GetFileNameWithoutExtension(written[0].Name);
        var variables = ExchangeVariable.Of(unit, flow);
        var layer = Layer(unit, identifier, written[0].Text, variables, flow, isThird);
        var token = Token(written.Select(f => f.Text).Append(layer).Append(version));
        layer = layer.Replace("@TOKEN@", token, StringComparison.Ordinal);
        List<(string Name, string Text)> sources = [.. written.Select(f => (f.Name, f.Text)), (identifier + "_exchange.c", layer)];
        List<(string, byte[])> files =
        [
            PackedFiles.Text("modelDescription.xml", ModelDescription.Of(unit, identifier, token, variables, flow, isThird, end)),
            .. sources.Select(s => PackedFiles.Text("sources/" + s.Name, s.Text)),
        ];
        if (isThird)
            files.Add(PackedFiles.Text("sources/buildDescription.xml", ModelDescription.Build(identifier)));
        var platform = isThird ? "x86_64-linux" : "linux64";
        files.Add(($"binaries/{platform}/{identifier}.so", Program(sources, identifier, wanted)));
        return files;
    }

    /// <summary>A universally unique identifier made of the content (RFC 9562, version 8).</summary>
    static string Token(IEnumerable<string> texts)
    {
        var hash = SHA256.HashData(Encoding.UTF8.GetBytes(string.Join('\f', texts)))[..16];
        hash[6] = (byte)(hash[6] & 0x0f | 0x80);
        hash[8] = (byte)(hash[8] & 0x3f | 0x80);
        return "{" + new Guid(hash, true) + "}";
    }

    static byte[] Program(IReadOnlyList<(string Name, string Text)> sources, string identifier, CancellationToken wanted)
    {
        if (!NativeCode.HasCompiler)
            throw new DeliveryException("compiler", "There is no C compiler on this machine.", "Install gcc.");
        var folder = Directory.CreateTempSubdirectory("exchange-").FullName;
        try
        {
            foreach (var (name, text) in sources)
                File.WriteAllText(Path.Combine(folder, name), text);
            var made = NativeCode.Library(folder, ModelDescription.Sources(identifier), identifier + ".so", wanted);
            return made.Succeeded && made.Messages.Length == 0
                ? File.ReadAllBytes(made.Program)
                : throw new DeliveryException(
                    "compile",
                    $"The exchange unit does not compile: {made.Messages}",
                    "Tell the makers of Anchor Bend."
                );
        }
        finally
        {
            Directory.Delete(folder, true);
        }
    }

    /// <summary>What leads from the standard's functions to the unit's.</summary>
    static string Layer(
        CodeUnit unit,
        string prefix,
        string header,
        IReadOnlyList<ExchangeVariable> variables,
        FlowShape? flow,
        bool isThird
    )
    {
        var (hasParameters, hasInputs) = (unit.Tunable.Count > 0, unit.Inputs.Count > 0);
        string Passed(ExchangeVariable v, bool sets) => sets ? $"{v.Place} = {Cast(unit, v)}value" : $"*value = {v.Place}";
        string Cases(ExchangeType type, bool sets) =>
            string.Join(
                '\n',
                variables
                    .Where(v => v.Type == type && (!sets || IsSet(v)))
                    .Select(v => $"    case {v.Reference}U:\n        {Passed(v, sets)};\n        break;")
            );
        var (states, indicators) = (flow?.States ?? [], flow?.Indicators.Count ?? 0);
        string Each(Func<string, int, string> line) => string.Join('\n', states.Select((s, i) => "    " + line(s.Name, i)));
        var members = new[]
        {
            hasParameters ? $"    {prefix}_parameters p;" : "",
            hasInputs ? $"    {prefix}_inputs u;" : "",
            states.Count > 0 ? $"    {prefix}_continuous dx;" : "",
            indicators > 0 ? $"    double z[{indicators}];" : "",
        };
        var reset = new[] { hasParameters ? $"    {prefix}_defaults(&c->p);" : "", hasInputs ? "    memset(&c->u, 0, sizeof c->u);" : "" };
        var values = new Dictionary<string, string>
        {
            ["PREFIX"] = prefix,
            ["STEP"] = CPlaces.Literal(unit.Request.Step, false),
            ["MEMBERS"] = string.Join('\n', members.Where(m => m.Length > 0)),
            ["RESET"] = string.Join('\n', reset.Where(m => m.Length > 0)),
            ["START"] = prefix + "_start",
            ["STEPPED"] = prefix + "_step",
            ["P"] = hasParameters ? ", &c->p" : "",
            ["U"] = hasInputs ? ", &c->u" : "",
            ["TROUBLES"] = Troubles(header),
            ["SAFE"] = flow is null ? "" : $"    {prefix}_state safe;",
            ["KIND"] = flow is null ? "fmi2CoSimulation" : "fmi2ModelExchange",
            ["STATES"] = states.Count.ToString(CultureInfo.InvariantCulture),
            ["FIRST"] = (variables.Count - 2 * states.Count - indicators).ToString(CultureInfo.InvariantCulture),
            ["INDICATORS"] = indicators.ToString(CultureInfo.InvariantCulture),
            ["DX"] = states.Count > 0 ? ", &c->dx" : "",
            ["Z"] = indicators > 0 ? ", c->z" : "",
            ["GETSTATES"] = Each((name, i) => $"x[{i}] = c->s.x.{name};"),
            ["SETSTATES"] = Each((name, i) => $"c->s.x.{name} = x[{i}];"),
            ["GETSLOPES"] = Each((name, i) => $"dx[{i}] = c->dx.{name};"),
            ["GETNOMINALS"] = Each((_, i) => $"x[{i}] = {CPlaces.Literal(states[i].Nominal, false)};"),
            ["GETINDICATORS"] = indicators > 0 ? "    memcpy(z, ((const instance *)component)->z, count * sizeof *z);" : "    (void)z;",
            ["GETREALS"] = Cases(ExchangeType.Real, false),
            ["SETREALS"] = Cases(ExchangeType.Real, true),
            ["GETINTEGERS"] = Cases(ExchangeType.Integer, false),
            ["SETINTEGERS"] = Cases(ExchangeType.Integer, true),
            ["GETBOOLEANS"] = Cases(ExchangeType.Boolean, false),
            ["SETBOOLEANS"] = Cases(ExchangeType.Boolean, true),
        };
        var (version, kind) = (isThird ? "third" : "second", flow is null ? "steps" : "flow");
        var pieces = new[] { "instance", kind, "values", flow is null ? "" : "change", version, $"{version}_{kind}" };
        var text = string.Concat(pieces.Where(p => p.Length > 0).Select(p => Read(p + ".c")));
        foreach (var (name, value) in values)
            text =
                value.Length == 0
                    ? text.Replace($"@{name}@\n", "", StringComparison.Ordinal).Replace($"@{name}@", "", StringComparison.Ordinal)
                    : text.Replace($"@{name}@", value, StringComparison.Ordinal);
        return text;
    }

    /// <summary>States are set for derivatives, which are differences.</summary>
    static bool IsSet(ExchangeVariable v) =>
        v.Causality is ExchangeCausality.Parameter or ExchangeCausality.Input
        || v is { Causality: ExchangeCausality.Local, SlopeOf: null, IsIndicator: false };

    /// <summary>The counters that the state has, as C.</summary>
    static string Troubles(string header)
    {
        var counters = new[] { "unsolved", "unsettled" }.Where(c => header.Contains($" {c};", StringComparison.Ordinal)).ToList();
        return counters.Count == 0 ? "0U" : string.Join(" + ", counters.Select(c => "c->s." + c));
    }

    static string Cast(CodeUnit unit, ExchangeVariable v) => v.Type == ExchangeType.Real && unit.Request.IsFloat ? "(float)" : "";

    static string Read(string name)
    {
        using var stream = typeof(ExchangeUnit).Assembly.GetManifestResourceStream(name)!;
        using var reader = new StreamReader(stream);
        return reader.ReadToEnd();
    }
}
