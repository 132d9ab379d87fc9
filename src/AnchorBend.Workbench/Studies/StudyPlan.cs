using AnchorBend.Compiler.Preparation;
using AnchorBend.Exploration;
using AnchorBend.Exploration.Designs;
using AnchorBend.Language;
using AnchorBend.Language.Units;
using AnchorBend.Modeling.Documents;
using AnchorBend.Modeling.Flat;

namespace AnchorBend.Workbench.Studies;

/// <summary>A factor of a study as people see it.</summary>
/// <param name="Problem">Why its values cannot be read; null where they can.</param>
/// <param name="Told">Its values in words.</param>
public sealed record FactorView(
    string Id,
    string Target,
    string Label,
    string Values,
    bool IsDrawn,
    string Unit,
    string? Present,
    string Told,
    string? Problem
)
{
    /// <summary>Whether it is a tolerance of the model, and none of the study's own factors.</summary>
    public bool IsTolerance { get; init; }
}

/// <summary>What a study of a document comes to: its factors, and the rows that are run.</summary>
/// <param name="Numbers">Of the rows of the table in the design, from 1: those that are off or break a condition are left out.</param>
/// <param name="Problem">Why there are no rows; null where there are.</param>
public sealed record StudyPlan(
    IReadOnlyList<FactorView> Factors,
    StudyTable? Table,
    IReadOnlyList<int> Numbers,
    int LeftOut,
    string? Problem,
    string? Advice
)
{
    /// <summary>How many rows there may come to be.</summary>
    public int RowsAtMost(StudyNode study) => study.Search?.Runs ?? Table?.Rows.Count ?? 0;

    static readonly Dictionary<string, DesignKind?> Kinds = new()
    {
        ["grid"] = DesignKind.Grid,
        ["one"] = DesignKind.OneAtATime,
        ["random"] = DesignKind.Random,
        ["latin"] = DesignKind.LatinHypercube,
        ["sobol"] = DesignKind.Sobol,
        ["own"] = null,
    };

    /// <param name="prepared">The model that the study is of, for present values and units.</param>
    /// <param name="all">Whether rows that are off are among them.</param>
    public static StudyPlan Of(ModelDocument document, StudyNode study, PreparedModel prepared, bool all = false)
    {
        var factors = new List<StudyFactor>();
        var views = new List<FactorView>();
        var labels = Labels(document, study);
        foreach (var (id, node) in study.Factors.OrderBy(f => f.Value.Order))
            Add(id, node, null, false);
        if (study.Design.HasTolerances)
            foreach (var (id, node) in document.Tolerances.OrderBy(t => t.Value.Order))
                // What the study itself varies has no tolerance beside.
                if (study.Factors.Values.All(f => f.Target != node.Target))
                    Add(
                        Tolerance + id,
                        new StudyFactorNode
                        {
                            Target = node.Target,
                            Values = node.Values,
                            IsDrawn = true,
                        },
                        GroupOf(document, node),
                        true
                    );

        void Add(string id, StudyFactorNode node, FactorGroup? group, bool isTolerance)
        {
            var path = document.NameOf(node.Target) ?? node.Target;
            var label = labels.GetValueOrDefault(id) ?? LabelOf(document, path);
            var present = PresentOf(document, prepared, path);
            var view = new FactorView(id, node.Target, label, node.Values, node.IsDrawn, "", present, "", null)
            {
                IsTolerance = isTolerance,
            };
            try
            {
                var factor = Read(document, prepared, path, node, present) with
                {
                    Id = id,
                    Label = label,
                    Target = node.Target,
                    Group = group,
                };
                if (node.IsDrawn)
                    factor = factor with { IsDrawn = true };
                factor.Spread.Check(label);
                factors.Add(factor);
                views.Add(view with { IsDrawn = factor.IsDrawn, Unit = factor.Unit, Told = FactorWords.Of(factor) });
            }
            catch (ExplorationException e)
            {
                views.Add(view with { Problem = node.Values.Length == 0 ? "Values are needed." : e.Message });
            }
        }

        StudyPlan Without(string problem, string? advice) => new(views, null, [], 0, problem, advice);
        if (views.Count == 0)
            return Without("Nothing varies yet.", "Add a factor: any parameter, slot, option, stimulus, fault or run setting.");
        if (views.FirstOrDefault(v => v.Problem is not null) is { } wrong)
            return Without($"{wrong.Label}: {wrong.Problem}", null);
        try
        {
            return Rows(study, factors, views, all);
        }
        catch (ExplorationException e)
        {
            return Without(e.Message, e.Advice);
        }
    }

    /// <summary>Ids of factors that are tolerances of the model begin with it.</summary>
    public const string Tolerance = "t~";

    static FactorGroup? GroupOf(ModelDocument document, ToleranceNode tolerance) =>
        tolerance.Group is { } id && document.ToleranceGroups.TryGetValue(id, out var group)
            ? new FactorGroup(group.Name, group.Correlation)
            : null;

    /// <exception cref="ExplorationException">It is not in the model, or its values cannot be read.</exception>
    static StudyFactor Read(ModelDocument document, PreparedModel prepared, string path, StudyFactorNode node, string? present)
    {
        if (!RowSettings.IsOne(path) && prepared.CanRun && prepared.Model.Find(path) is null && !prepared.Model.Words.ContainsKey(path))
            throw new ExplorationException("factor", $"There is no parameter '{path}'.", "Choose another, or take the factor away.");
        var isFormula = prepared.CanRun && prepared.Model.Find(path) is { Role: not VariableRole.Parameter };
        var values = node.Values.Trim();
        return FactorText.Read(
            isFormula ? RowSettings.Formula + node.Target : path,
            values == FactorText.Limits ? LimitsOf(document, path) : values,
            present
        );
    }

    /// <summary>The limits that a sheet gives a value, as a range.</summary>
    static string LimitsOf(ModelDocument document, string path) =>
        document.Sheets.Values.SelectMany(s => s.Rows.Values).FirstOrDefault(r => r.Name == path)
            is { Minimum: { Length: > 0 } low, Maximum: { Length: > 0 } high, Unit: var unit }
            ? $"uniform({low} {unit}, {high} {unit})"
            : throw new ExplorationException("factor", $"'{path}' has no two limits in a sheet.", "Give them there, or type a tolerance.");

    /// <exception cref="ExplorationException">The factors make no rows.</exception>
    static StudyPlan Rows(StudyNode study, List<StudyFactor> factors, List<FactorView> views, bool all)
    {
        // A search makes its own.
        if (study.Search is not null)
            return new StudyPlan(views, new StudyTable(factors, []), [], 0, null, null);
        var design = study.Design;
        var isOwn = design.Kind == "own";
        var table =
            isOwn ? new StudyTable(factors, [])
            : design.Kind == "shares" ? StudyTable.ForShares(factors, design.Runs, design.Seed)
            : StudyTable.Of(factors, Kinds[design.Kind], design.Runs, design.Seed, design.Draws);
        var rows = table.Rows.ToList();
        foreach (var own in study.Rows)
            rows.Add([
                .. factors.Select(f =>
                    own.Values.GetValueOrDefault(f.Id) is { Length: > 0 } text ? f.CellOf(text) : f.CellOf(f.Spread.At(0.5))
                ),
            ]);
        if (rows.Count == 0)
            throw new ExplorationException("rows", "There are no rows yet.", "Add rows by hand, paste them, or choose a design.");
        var conditions = study.Conditions.Where(c => c.Trim().Length > 0).Select(c => FactorCondition.Parse(c, factors)).ToList();
        var off = study.Off.ToHashSet();
        var (kept, numbers, left) = (new List<StudyCell[]>(), new List<int>(), 0);
        for (var i = 0; i < rows.Count; i++)
        {
            WorkBudget.Current.Check();
            if (!conditions.TrueForAll(c => c.Holds(rows[i])))
                left++;
            else if (all || !off.Contains(i + 1))
            {
                kept.Add(rows[i]);
                numbers.Add(i + 1);
            }
        }

        if (kept.Count == 0)
            throw new ExplorationException("rows", "No row is left.", "Switch rows on, or change the conditions.");
        return new StudyPlan(views, new StudyTable(factors, kept), numbers, left, null, null);
    }

    /// <summary>What factors are called: the part and its parameter, with as much of the path as tells them apart.</summary>
    static Dictionary<string, string> Labels(ModelDocument document, StudyNode study)
    {
        var whole = study.Factors.ToDictionary(f => f.Key, f => LabelOf(document, document.NameOf(f.Value.Target) ?? f.Value.Target));
        static string Short(string path) =>
            path.Split('.') is { Length: > 2 } steps && !path.Contains('\'', StringComparison.Ordinal)
                ? string.Join('.', steps[^2..])
                : path;
        return whole.ToDictionary(
            f => f.Key,
            f => whole.Values.Count(other => Short(other) == Short(f.Value)) > 1 ? f.Value : Short(f.Value)
        );
    }

    /// <summary>What people call something that runs set.</summary>
    internal static string LabelOf(ModelDocument document, string path) =>
        path switch
        {
            _ when TrackPoint.Parse(path) is { } point => point.Label(document) ?? "a point of a stimulus that is gone",
            RowSettings.End => "end of the run",
            RowSettings.Stimulus => "stimulus",
            RowSettings.Point => "operating point",
            _ when path.StartsWith(RowSettings.Fault, StringComparison.Ordinal) => document
                .Faults.GetValueOrDefault(path[RowSettings.Fault.Length..])
                ?.Name
                ?? "fault",
            _ => path,
        };

    /// <summary>The value that the model has now, as it would be typed.</summary>
    public static string? PresentOf(ModelDocument? document, PreparedModel prepared, string path)
    {
        if (path == RowSettings.End)
            return document?.Settings.End;
        if (document is not null && TrackPoint.Parse(path) is { } point)
            return point.Present(document);
        if (prepared.CanRun && prepared.Model.Find(path) is { Role: not VariableRole.Parameter } and { } of)
            return prepared.Map.Find(of.Owner)?.Node.Parameters.GetValueOrDefault(path[(of.Owner.Length + 1)..]);
        if (!prepared.CanRun || prepared.Model.Find(path) is not { Role: VariableRole.Parameter } parameter)
            return prepared.CanRun && prepared.Model.Words.TryGetValue(path, out var word) ? $"\"{word}\"" : null;
        var value = prepared.Model.ParameterValues()[parameter.Index];
        if (parameter.Type == Language.Binding.ScalarType.Boolean)
            return value == 0 ? "false" : "true";
        if (parameter.Unit is not { } unit)
            return value.ToString("R", System.Globalization.CultureInfo.InvariantCulture);
        var symbol = unit.Symbol == "1" ? "" : unit.Symbol;
        if (parameter.DisplayUnit is { Length: > 0 } wanted && Unit.TryParse(wanted, out var shown, out _) && shown.Fits(unit))
            (value, symbol) = (unit.ConvertTo(shown, value), wanted);
        // A conversion there and back leaves digits that nobody typed.
        return $"{value.ToString("G12", System.Globalization.CultureInfo.InvariantCulture)} {symbol}".Trim();
    }
}
