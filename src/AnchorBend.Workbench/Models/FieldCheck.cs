using AnchorBend.Compiler.Preparation;
using AnchorBend.Modeling;
using AnchorBend.Modeling.Documents;
using AnchorBend.Modeling.Flat;
using AnchorBend.Workbench.Compute;

namespace AnchorBend.Workbench.Models;

/// <summary>What a text in a parameter field would mean.</summary>
/// <param name="Value">The number in the parameter's own unit, where it is one number.</param>
public sealed record FieldAnswer(bool IsValid, double? Value, string? Unit, string? Message);

/// <summary>Checks texts while they are typed; nothing of them is kept.</summary>
public sealed class FieldCheck(ComputeGate compute)
{
    /// <summary>What checking one field may take.</summary>
    static readonly TimeSpan MostChecking = TimeSpan.FromSeconds(10);

    /// <param name="part">The part whose parameter it is; the level itself for a parameter of the level.</param>
    /// <param name="isOfLevel">Whether <paramref name="part"/> is a level and the field one of its own named parameters.</param>
    /// <exception cref="NotFoundException">There is no such part.</exception>
    public FieldAnswer Answer(ModelSession session, PartPath part, bool isOfLevel, string parameter, string text, CancellationToken wanted)
    {
        var (document, _) = session.Present();
        if (isOfLevel ? document.Level(part) is null : document.Part(part) is null)
            throw new NotFoundException("There is no such part.");
        // A number for a plain parameter needs no more than the model as it is.
        if (
            document.NamePath(part) is { } path
            && Quick(session, path.Length == 0 ? parameter : $"{path}.{parameter}", text, wanted) is { } quick
        )
            return quick;
        return Full(session, Changed(document, part, isOfLevel, parameter, text), part, parameter, wanted);
    }

    static FieldAnswer? Quick(ModelSession session, string name, string text, CancellationToken wanted)
    {
        var (prepared, _, _) = session.Prepare(wanted);
        if (ValueChange.Apply(prepared, [(name, text)]) is not { } changed || changed.Model.Find(name) is not { } variable)
            return null;
        var value = changed.Model.ParameterValues()[variable.Index];
        return new FieldAnswer(true, double.IsFinite(value) ? value : null, variable.Unit?.Symbol, null);
    }

    static ModelDocument Changed(ModelDocument document, PartPath part, bool isOfLevel, string parameter, string text)
    {
        if (isOfLevel)
        {
            var (id, level) = document.Level(part)!.Value;
            var before = level.Parameters.GetValueOrDefault(parameter);
            var node = before is null ? new ParameterNode { Value = text } : before with { Value = text };
            return document.With(id, level with { Parameters = new(level.Parameters) { [parameter] = node } });
        }

        var (definition, found) = document.Part(part)!.Value;
        var diagram = (DiagramDefinition)document.Definitions[definition];
        var changed = found with { Parameters = new(found.Parameters) { [parameter] = text } };
        return document.With(definition, diagram with { Parts = new(diagram.Parts) { [part.Id] = changed } });
    }

    FieldAnswer Full(ModelSession session, ModelDocument changed, PartPath part, string parameter, CancellationToken wanted)
    {
        var elaboration = compute.Run(MostChecking, wanted, _ => DocumentElaboration.Elaborate(changed, session.Catalog()));
        var owner = elaboration.Map.NameOf(part) ?? "";
        var finding = elaboration.Findings.FirstOrDefault(f => f.Severity == Severity.Error && f.Item == parameter && f.Part == owner);
        if (finding is not null)
            return new FieldAnswer(false, null, null, finding.Message + (finding.Suggestion is null ? "" : " " + finding.Suggestion));
        var variable = elaboration.Model.Find(owner.Length == 0 ? parameter : $"{owner}.{parameter}");
        double? number =
            variable is { Role: VariableRole.Parameter }
            && elaboration.Model.ParameterValues()[variable.Index] is var v
            && double.IsFinite(v)
                ? v
                : null;
        return new FieldAnswer(true, number, variable?.Unit?.Symbol, null);
    }
}
