using AnchorBend.Compiler.Preparation;
using AnchorBend.Modeling.Documents;
using AnchorBend.Modeling.Flat;
using AnchorBend.Workbench.Alternatives;

namespace AnchorBend.Workbench.Studies;

/// <summary>Something that a study can vary.</summary>
/// <param name="Kind">parameter, slot, option, words, setting or fault.</param>
/// <param name="Present">What it is now, as typed; null where that is not known.</param>
/// <param name="Values">Values to begin with, as typed.</param>
public sealed record FactorCandidate(string Target, string Label, string Kind, string? Present, string Values);

/// <summary>What can be varied about a model, found by words of its name.</summary>
public static class FactorCandidates
{
    const int MostOffered = 60;

    public static IReadOnlyList<FactorCandidate> Of(ModelDocument document, PreparedModel prepared, string? search)
    {
        var words = (search ?? "").Split(' ', StringSplitOptions.RemoveEmptyEntries);
        return
        [
            .. Choices(document, prepared)
                .Concat(Settings(document))
                .Concat(TrackPoint.Candidates(document))
                .Concat(Parameters(document, prepared))
                .Where(c => Array.TrueForAll(words, w => c.Label.Contains(w, StringComparison.OrdinalIgnoreCase)))
                .DistinctBy(c => c.Target)
                .OrderBy(c => c.Kind == "parameter" && c.Label.Contains('.', StringComparison.Ordinal))
                .Take(MostOffered),
        ];
    }

    static IEnumerable<FactorCandidate> Choices(ModelDocument document, PreparedModel prepared) =>
        ModelChoices
            .Of(prepared, document)
            .Select(c => new FactorCandidate(
                c.Part is { } part && c.Path.LastIndexOf('.') is > 0 and var cut ? $"{part}.{c.Path[(cut + 1)..]}" : c.Path,
                c.Name,
                c.Kind,
                c.Present,
                string.Join(", ", c.Values.Select(v => v.Text))
            ));

    static IEnumerable<FactorCandidate> Settings(ModelDocument document)
    {
        static string Quoted(IEnumerable<string> names) => string.Join(", ", names.Select(n => $"\"{n}\""));
        yield return new FactorCandidate(RowSettings.End, "end of the run", "setting", document.Settings.End, "");
        if (document.Stimuli.Count > 0)
            yield return new FactorCandidate(
                RowSettings.Stimulus,
                "stimulus",
                "setting",
                null,
                Quoted(document.Stimuli.Values.Select(s => s.Name))
            );
        if (document.OperatingPoints.Count > 0)
            yield return new FactorCandidate(
                RowSettings.Point,
                "operating point",
                "setting",
                null,
                Quoted(document.OperatingPoints.Values.Select(p => p.Name))
            );
        foreach (var (id, fault) in document.Faults)
            yield return new FactorCandidate(RowSettings.Fault + id, fault.Name, "fault", fault.IsActive ? "on" : "off", "off, on");
    }

    static IEnumerable<FactorCandidate> Parameters(ModelDocument document, PreparedModel prepared)
    {
        foreach (var (name, row) in document.Sheets.Values.Where(s => s.Chooser.Length > 0).Select(s => (s.Chooser, s)))
            yield return new FactorCandidate(
                name,
                $"{row.Name}, column",
                "words",
                null,
                string.Join(", ", row.Columns.Select(c => $"\"{c.Value.Name}\""))
            );
        if (!prepared.CanRun)
            yield break;
        foreach (var place in prepared.Map.Parts)
        foreach (var (name, text) in place.Node.Parameters)
            if (
                prepared.Map.NameOf(place.Path) is { } owner
                && prepared.Model.Find($"{owner}.{name}") is { Role: not VariableRole.Parameter }
            )
                yield return new FactorCandidate(
                    new SignalReference(place.Path, name).ToString(),
                    $"{owner}.{name}",
                    "formula",
                    text,
                    text
                );
        foreach (var v in prepared.Model.Variables)
        {
            if (v is not { Role: VariableRole.Parameter, IsProtected: false } || v.Name.Contains('[', StringComparison.Ordinal))
                continue;
            var place = v.Owner.Length == 0 ? null : prepared.Map.Find(v.Owner);
            if (v.Owner.Length > 0 && place is null)
                continue;
            var target = place is null ? v.Name : new SignalReference(place.Path, v.Name[(v.Owner.Length + 1)..]).ToString();
            yield return new FactorCandidate(target, v.Name, "parameter", StudyPlan.PresentOf(document, prepared, v.Name), "");
        }
    }
}
