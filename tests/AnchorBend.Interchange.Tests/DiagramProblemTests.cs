using System.Globalization;
using AnchorBend.Compiler.Preparation;
using AnchorBend.Language.Syntax;
using AnchorBend.Modeling.Catalog;
using AnchorBend.Modeling.Documents;
using AnchorBend.Modeling.Flattening;
using AnchorBend.Simulation;

namespace AnchorBend.Interchange.Tests;

/// <summary>
/// Diagrams of catalog parts with known motions, in the folder <c>Diagrams</c>: loops, oscillators, samplers, dead time, circuits, drives,
/// heat. Each file ends with values and where they come from; they must be met as text and as the model document that the text becomes.
/// </summary>
public class DiagramProblemTests
{
    static readonly string Folder = Path.Combine(AppContext.BaseDirectory, "Diagrams");

    sealed record Value(double Time, string Variable, double Expected);

    public static TheoryData<string> Names =>
        [.. Directory.EnumerateFiles(Folder, "*.mo").Select(f => Path.GetFileNameWithoutExtension(f)).Order(StringComparer.Ordinal)];

    static double Number(string text) => double.Parse(text, CultureInfo.InvariantCulture);

    static string Text(string name) => File.ReadAllText(Path.Combine(Folder, name + ".mo"));

    static Value[] ValuesIn(string text) =>
        [
            .. text.Split('\n')
                .Where(l => l.StartsWith("// ", StringComparison.Ordinal))
                .Skip(1)
                .Select(l => l[3..].Trim().Split(' '))
                .Select(p => new Value(Number(p[0]), p[1], Number(p[2]))),
        ];

    /// <summary>The largest error of a run as a multiple of the tolerance.</summary>
    static double ErrorInTolerances(PreparedModel prepared, Value[] values, double tolerance)
    {
        Assert.True(prepared.CanRun, string.Join("\n", prepared.Findings));
        double[] times = [.. values.Select(v => v.Time).Distinct().Order()];
        using var simulator = new Simulator(
            prepared.Compiled!,
            new ParameterSet(prepared.Model),
            new RunOptions
            {
                End = times[^1],
                OutputTimes = times,
                RelativeTolerance = tolerance,
                AbsoluteTolerance = tolerance,
            }
        );
        var result = simulator.Run();
        Assert.Null(result.Failure);
        return values.Max(v =>
        {
            var row = Enumerable.Range(0, result.Trace.Rows).Last(r => result.Trace.Times[r] <= v.Time);
            return Math.Abs(result.Trace[row, prepared.Compiled!.Plan.RepresentativeOf(v.Variable)] - v.Expected)
                / (tolerance * (1 + Math.Abs(v.Expected)));
        });
    }

    static PreparedModel AsText(string text)
    {
        var (classes, errors) = Parser.ParseFile(text);
        Assert.Empty(errors);
        var (model, findings) = Flattener.Flatten(classes[^1], new ClassList(classes, PartCatalog.Standard));
        return PreparedModel.Prepare(model, findings, SourceMap.Empty);
    }

    static PreparedModel AsDocument(string text)
    {
        // Through the stored form too, as a browser or the command line would read it.
        var document = ModelDocument.FromJson(TextImport.Read(text).ToJson(true));
        return PreparedModel.Prepare(DocumentElaboration.Elaborate(document, PartCatalog.Of(document)));
    }

    [Theory]
    [MemberData(nameof(Names))]
    public void As_text_errors_stay_within_ten_tolerances(string name)
    {
        var (text, prepared) = (Text(name), AsText(Text(name)));
        foreach (var tolerance in new[] { 1e-3, 1e-5, 1e-7, 1e-9 })
            Assert.InRange(ErrorInTolerances(prepared, ValuesIn(text), tolerance), 0, 10);
    }

    [Theory]
    [MemberData(nameof(Names))]
    public void As_a_document_errors_stay_within_ten_tolerances(string name)
    {
        var (text, prepared) = (Text(name), AsDocument(Text(name)));
        foreach (var tolerance in new[] { 1e-4, 1e-8 })
            Assert.InRange(ErrorInTolerances(prepared, ValuesIn(text), tolerance), 0, 10);
    }
}
