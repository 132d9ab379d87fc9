using System.Globalization;
using System.Text.RegularExpressions;
using AnchorBend.Compiler.Preparation;
using AnchorBend.Modeling.Catalog;
using AnchorBend.Modeling.Documents;
using AnchorBend.Modeling.Written;
using AnchorBend.Tests;

namespace AnchorBend.Simulation.Tests;

/// <summary>Whatever is edited, a model prepared after another one runs as one compiled afresh, bit by bit.</summary>
public class FreshCompileTests
{
    /// <summary>Texts that hold everything a plan holds: clocks, delays, assertions, starts, nominals, limits, tables, events, initial
    /// equations.</summary>
    static readonly string[] Texts =
    [
        "discrete Real y(start = 0.3, fixed = true); Real x(start = 1, fixed = true); equation der(x) = -x + y; when sample(0.05, 0.1) then y = pre(y) + 0.2 * x; end when;",
        "Real x(start = 0, fixed = true), y; equation der(x) = 1; when x >= 1.5 then reinit(x, 0.25); end when; y = delay(x, 0.35); assert(y < 3.5, \"y is large\", AssertionLevel.warning);",
        "Real x(start = 2, fixed = true, nominal = 0.5, min = -9); Real z(start = 0.5); equation der(x) = -3 * x + z; der(z) = 0.2 - z; initial equation der(z) = 0.1;",
        "Real u, y, x(start = 0.1, fixed = true); parameter Real p = 0.4; equation u = interpolate(time, {0, 0.5, 1.2}, {0, 2, 1}); y = interpolate(x, {-1, 0, 2}, {3, 4, 6}) + interpolate(p, {0, 1}, {0, 10}) * interpolate(p, {0, 1}, {0, 20}); der(x) = u - y / 8;",
        "Real x(start = 1, fixed = true), v(start = 0, fixed = true); Integer n(start = 0, fixed = true); equation der(x) = v; der(v) = if noEvent(x > 0.2) then -9 else -4 * x; when x < 0.3 then n = pre(n) + 1; end when;",
        "Real a(start = 1, fixed = true), b, v(start = 0.4, fixed = true), w, f; equation der(a) = v; der(b) = w; 2 * der(v) = -f - 10 * a; 3 * der(w) = f; a = b; when a < 0.1 then reinit(v, 1.2); end when;",
        "Real x(start = 0.4, fixed = true), y(start = 0.7); equation y ^ 3 + 0.5 * y = x + 0.1; der(x) = if y > 0.6 then -1 else 0.3 * y;",
    ];

    static readonly (string From, string To)[] Words =
    [
        ("noEvent(x > 0.2)", "x > 0.2"),
        ("fixed = true", "fixed = false"),
        ("warning", "error"),
        ("sin", "cos"),
        ("x >= ", "x > "),
        ("nominal", "max"),
    ];

    /// <summary>Every text with each of its numbers changed in turn, and with some words changed.</summary>
    static IEnumerable<string> Edits(string text)
    {
        foreach (Match number in Regex.Matches(text, @"(?<![\w.])\d+(\.\d+)?"))
        {
            var value = double.Parse(number.Value, CultureInfo.InvariantCulture);
            foreach (var changed in new[] { value + 1, 0, 1.25 * value })
                yield return text[..number.Index]
                    + changed.ToString("R", CultureInfo.InvariantCulture)
                    + text[(number.Index + number.Length)..];
        }

        foreach (var (from, to) in Words)
            for (var at = text.IndexOf(from, StringComparison.Ordinal); at >= 0; at = text.IndexOf(from, at + 1, StringComparison.Ordinal))
                yield return text[..at] + to + text[(at + from.Length)..];
    }

    static string Print(RunResult result) =>
        $"{result.Failure?.Code} {result.Failure?.Message} {result.Trace.Rows} {result.Events.Count} {string.Join(';', result.Events.Take(20))} "
        + string.Join(
            ' ',
            Enumerable
                .Range(0, result.Trace.Rows)
                .Where(r => r % 7 == 0)
                .Select(r => string.Join(',', result.Trace.Variables.Select(v => BitConverter.DoubleToInt64Bits(result.Trace[r, v]))))
        );

    static string RunOf(PreparedModel prepared, double end = 2)
    {
        if (!prepared.CanRun)
            return "errors " + string.Join('\n', prepared.Findings.Select(f => f.Message));
        try
        {
            return Print(TextModel.Run(prepared, new RunOptions { End = end, OutputInterval = end / 40 }));
        }
        catch (SimulationException e)
        {
            return e.Message;
        }
    }

    [Theory]
    [InlineData(0)]
    [InlineData(1)]
    [InlineData(2)]
    [InlineData(3)]
    [InlineData(4)]
    [InlineData(5)]
    [InlineData(6)]
    public void An_edited_text_runs_as_if_it_had_always_been_so(int which)
    {
        var before = TextModel.Prepare(Texts[which]);
        Assert.True(before.CanRun, string.Join("\n", before.Findings));
        foreach (var text in Edits(Texts[which]))
        {
            var fresh = TextModel.Prepare(text);
            var after = PreparedModel.Prepare(
                fresh.Model,
                [.. fresh.Findings.Where(f => f.Code is not ("algebraic-loop" or "index-reduction"))],
                SourceMap.Empty,
                before
            );
            Assert.True(RunOf(fresh) == RunOf(after), text);
        }
    }

    [Fact]
    public void The_plan_is_kept_where_only_a_parameter_changes()
    {
        var before = TextModel.Prepare("parameter Real T = 2; Real x(start = 1); equation T * der(x) = -x;");
        var after = TextModel.Prepare("parameter Real T = 3; Real x(start = 1); equation T * der(x) = -x;");
        Assert.Same(before.Compiled, PreparedModel.Prepare(after.Model, after.Findings, SourceMap.Empty, before).Compiled);
    }

    [Fact]
    public void Tables_and_conditions_that_look_alike_are_told_apart()
    {
        // Equal texts for people, other numbers: both products and both conditions once shared one value.
        const string text = """
            parameter Real p = 0.5; Real x(start = 0, fixed = true), y; Integer n(start = 0, fixed = true), m(start = 0, fixed = true);
            equation der(x) = 1; y = interpolate(p, {0, 1}, {0, 10}) + interpolate(p, {0, 1}, {0, 20});
            when interpolate(x, {0, 1}, {0, 1}) > 0.5 then n = pre(n) + 1; end when; when interpolate(x, {0, 1}, {0, 0.1}) > 0.5 then m = pre(m) + 1; end when;
            """;
        Assert.Equal(15, TextModel.Values(text, "y", [1])[0], 1e-12);
        Assert.Equal(1, TextModel.Values(text, "n", [1])[0]);
        Assert.Equal(0, TextModel.Values(text, "m", [1])[0]);
    }

    public static TheoryData<string> Demos =>
        [.. Directory.GetFiles(Path.Combine(Root(), "examples"), "*.json").Select(f => Path.GetFileName(f)).Order(StringComparer.Ordinal)];

    /// <summary>Fields that are tried of a demo; large ones take longer and have the same kinds of them.</summary>
    static int FieldsOf(PreparedModel prepared) => prepared.Model.Variables.Count > 800 ? 3 : 12;

    [Theory]
    [MemberData(nameof(Demos))]
    public void Any_field_of_a_demo_runs_as_if_it_had_always_been_so(string demo)
    {
        var random = new Random(11);
        var document = ModelDocument.FromJson(File.ReadAllText(Path.Combine(Root(), "examples", demo)));
        var before = PreparedModel.Prepare(DocumentElaboration.Elaborate(document, PartCatalog.Of(document)));
        // A tenth of what it is made for shows as much of a model that switches thousands of times a second.
        var end = Math.Min(2, DocumentRun.OptionsOf(document).End / 10);
        var fields = document
            .Main.Parts.SelectMany(p =>
                PartCatalog.Of(document).Describe(p.Value.Type).Parameters.Select(f => (Part: p.Key, Field: f.Name))
            )
            .ToList();
        foreach (var (part, field) in fields.OrderBy(_ => random.Next()).Take(FieldsOf(before)))
        {
            var node = document.Main.Parts[part];
            foreach (var text in (string[])["0", "1.5", "true", "0.25"])
            {
                var edited = document.WithMain(
                    document.Main with
                    {
                        Parts = new(document.Main.Parts) { [part] = node with { Parameters = new(node.Parameters) { [field] = text } } },
                    }
                );
                PreparedModel Prepared(PreparedModel? earlier) =>
                    PreparedModel.Prepare(DocumentElaboration.Elaborate(edited, PartCatalog.Of(edited)), earlier);
                Assert.True(RunOf(Prepared(null), end) == RunOf(Prepared(before), end), $"{demo}: {node.Name}.{field} = {text}");
            }
        }
    }

    static string Root()
    {
        var at = AppContext.BaseDirectory;
        while (!File.Exists(Path.Combine(at, "AnchorBend.slnx")))
            at = Path.GetDirectoryName(at)!;
        return at;
    }
}
