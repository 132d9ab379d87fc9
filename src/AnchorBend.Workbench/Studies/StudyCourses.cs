using AnchorBend.Compiler.Preparation;
using AnchorBend.Modeling.Documents;
using AnchorBend.Modeling.Flat;
using AnchorBend.Simulation;
using AnchorBend.Simulation.Recording;

namespace AnchorBend.Workbench.Studies;

/// <summary>The courses that runs of a study keep beside their figures: some signals, each at the same even instants.</summary>
/// <param name="Signals">By path.</param>
/// <param name="Rows">So many rows from the first on keep them; further ones would take more room than there is.</param>
public sealed record StudyCourses(IReadOnlyList<string> Signals, double Start, double End, int Rows)
{
    /// <summary>Instants of a course, both ends among them.</summary>
    public const int Instants = 401;

    /// <summary>Bytes that the courses of one study may take: of the signals of plot sheets, and of all.</summary>
    const long MostOfSheets = 256L << 20,
        MostOfAll = 1L << 30;

    /// <summary>Bytes that one row takes.</summary>
    public long BytesPerRow => (long)Signals.Count * Instants * sizeof(double);

    public IReadOnlyList<double> Times => [.. Enumerable.Range(0, Instants).Select(TimeOf)];

    double TimeOf(int instant) => instant == Instants - 1 ? End : Start + (End - Start) * instant / (Instants - 1.0);

    /// <summary>What a study keeps.</summary>
    /// <param name="rows">How many it has.</param>
    public static StudyCourses Of(ModelDocument document, StudyNode study, PreparedModel prepared, int rows)
    {
        if (study.Keeps == "none" || !prepared.CanRun)
            return new StudyCourses([], 0, 0, 0);
        var options = DocumentRun.OptionsOf(document);
        var isAll = study.Keeps == "all";
        List<string> signals =
        [
            .. (
                isAll
                    ? prepared.Model.Variables.Where(v => v.Role != VariableRole.Parameter && v.Index != FlatModel.TimeIndex)
                    : document
                        .PlotSheets.Values.SelectMany(s => s.Tiles.Values)
                        .SelectMany(t => t.Curves.Values)
                        .Select(c => prepared.Find(c.Signal))
                        .OfType<FlatVariable>()
            )
                .Select(v => v.Name)
                .Distinct(),
        ];
        var courses = new StudyCourses(signals, options.Start, options.End, rows);
        return signals.Count == 0
            ? courses with
            {
                Rows = 0,
            }
            : courses with
            {
                Rows = (int)Math.Min(rows, (isAll ? MostOfAll : MostOfSheets) / courses.BytesPerRow),
            };
    }

    /// <summary>The courses of a run, one signal behind another; NaN where it holds nothing.</summary>
    public double[] Sampled(PreparedModel prepared, ParameterSet parameters, Trace trace)
    {
        var values = new double[Signals.Count * Instants];
        Array.Fill(values, double.NaN);
        if (trace.Rows == 0)
            return values;
        var last = trace.Times[trace.Rows - 1];
        for (var s = 0; s < Signals.Count; s++)
        {
            if (prepared.Find(Signals[s]) is not { } variable)
                continue;
            var place = prepared.Compiled!.Plan.Representative[variable.Index];
            var constant = RecordedSignal.ConstantOf(prepared, variable);
            for (var i = 0; i < Instants && TimeOf(i) is var time && time <= last + 1e-9 * Math.Abs(last); i++)
                values[s * Instants + i] =
                    trace.Has(place) ? trace.At(place, time)
                    : constant >= 0 ? parameters.Values[constant]
                    : double.NaN;
        }

        return values;
    }
}
