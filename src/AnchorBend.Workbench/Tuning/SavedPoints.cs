using System.Runtime.CompilerServices;
using AnchorBend.Compiler.Preparation;
using AnchorBend.Modeling.Documents;
using AnchorBend.Workbench.Models;
using AnchorBend.Workbench.Parts;

namespace AnchorBend.Workbench.Tuning;

/// <summary>Models as they stand at their saved operating points.</summary>
static class SavedPoints
{
    /// <summary>By the model as it is; those asked for last are kept.</summary>
    static readonly ConditionalWeakTable<PreparedModel, Dictionary<string, (PreparedModel, ModelDocument)>> known = [];

    const int Kept = 12;

    /// <summary>A request names a point that was taken away meanwhile, as by undo: the request cannot be done, its address is
    /// right.</summary>
    internal static RefusedException Gone() =>
        new("This operating point is not among the saved ones any more.", "Look from another point, or from where the model is.");

    /// <summary>The model with the values that its parameters have at a saved point; its runs begin there.</summary>
    /// <param name="id">Null or empty for the model as it is.</param>
    /// <exception cref="DocumentException">The model has errors, there or as it is.</exception>
    /// <exception cref="RefusedException">There is no such point.</exception>
    public static (PreparedModel Prepared, ModelDocument Document) Model(ModelSession session, string? id, CancellationToken wanted)
    {
        var (prepared, document, _) = session.Prepare(wanted);
        if (!prepared.CanRun)
            throw new DocumentException("The model has errors; see its findings.");
        if (id is not { Length: > 0 } || id == document.Settings.Point)
            return (prepared, document);
        if (!document.OperatingPoints.TryGetValue(id, out var point))
            throw Gone();
        var there = known.GetOrCreateValue(prepared);
        lock (there)
        {
            if (there.TryGetValue(id, out var before) && ReferenceEquals(before.Item2.OperatingPoints[id], point))
                return before;
            var made = At(session, prepared, document, id, point, null);
            there[id] = made;
            if (there.Count > Kept)
                there.Remove(there.Keys.First(k => k != id));
            return made;
        }
    }

    /// <summary>The model at a point that need not be among the saved ones.</summary>
    /// <param name="overrides">Texts of parameters by path; null for none.</param>
    /// <exception cref="DocumentException">The model has errors there.</exception>
    internal static (PreparedModel Prepared, ModelDocument Document) At(
        ModelSession session,
        PreparedModel prepared,
        ModelDocument document,
        string id,
        OperatingPointNode point,
        IReadOnlyDictionary<string, string>? overrides
    )
    {
        var moved = document with
        {
            OperatingPoints = new Dictionary<string, OperatingPointNode>(document.OperatingPoints) { [id] = point },
            Settings = document.Settings with { Point = id },
        };
        var model = DocumentPreparation.Prepare(moved, session.CatalogOf(document), prepared, overrides);
        return model.CanRun ? (model, moved) : throw new DocumentException($"With the values of '{point.Name}' the model has errors.");
    }
}
