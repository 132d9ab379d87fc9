using AnchorBend.Language.Syntax;
using AnchorBend.Language.Units;
using AnchorBend.Modeling.Documents;

namespace AnchorBend.Simulation;

/// <summary>Run options from a document's settings.</summary>
public static class DocumentRun
{
    /// <exception cref="DocumentException">A setting cannot be understood or lies outside its range.</exception>
    public static RunOptions OptionsOf(ModelDocument document)
    {
        var s = document.Settings;
        var point = document.OperatingPoints.GetValueOrDefault(s.Point);
        var options = new RunOptions
        {
            Start = point?.At ?? 0,
            End = Seconds(s.End, "end time"),
            Moving = [.. (point?.Moving ?? []).Select(m => document.NameOf(m) ?? m)],
            Method = MethodDescription.Named(s.Method)?.Method
                ?? throw new DocumentException(
                    $"There is no integration method '{s.Method}'; choose {string.Join(", ", MethodDescription.All.Select(m => m.Name))}."
                ),
            OutputInterval = string.IsNullOrWhiteSpace(s.Output) ? null : Seconds(s.Output, "distance of output points"),
            LargestStep = string.IsNullOrWhiteSpace(s.LargestStep) ? null : Seconds(s.LargestStep, "largest step"),
            From = StartValues.Of(document),
            SteadyStart = s.Start switch
            {
                _ when point is not null => point.Rests,
                "given" => false,
                "steady" => true,
                _ => throw new DocumentException($"A run starts 'given' or 'steady', not '{s.Start}'."),
            },
            // Of one that is gone, a finding tells.
            SteadyParts =
            [
                .. (point is null ? s.SteadyParts ?? [] : [])
                    .Select(id => PartPath.TryParse(id, out var path) && !path.IsRoot ? document.NamePath(path) : null)
                    .OfType<string>(),
            ],
            RelativeTolerance = s.RelativeTolerance,
            AbsoluteTolerance = s.AbsoluteTolerance,
            Step = Seconds(s.Step, "step"),
            Script = DocumentScript.Of(document),
        };
        if (point is not null && options.End <= options.Start)
            throw new DocumentException(
                FormattableString.Invariant(
                    $"Runs begin at the operating point '{point.Name}', at {options.Start:G5} s, and the end time does not lie behind it."
                )
            );
        return options.Problem() is { } problem ? throw new DocumentException(problem) : options;
    }

    static double Seconds(string? text, string what)
    {
        // A document from outside may leave a value empty.
        text ??= "";
        try
        {
            var expression = Parser.ParseField(text);
            var unit = Unit.Parse("s");
            if (expression is Quantity q)
                (expression, unit) = (q.Value, q.Unit);
            if (expression is NumberLiteral n && unit.Dimension == Dimension.Base(2))
                return n.Value * unit.Factor;
        }
        catch (LanguageException) { }

        throw new DocumentException($"The {what} must be a time such as 20 s, not '{text}'.");
    }
}
