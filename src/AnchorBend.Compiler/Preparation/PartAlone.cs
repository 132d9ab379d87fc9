using System.Globalization;
using AnchorBend.Language.Binding;
using AnchorBend.Modeling.Documents;
using AnchorBend.Modeling.Flat;

namespace AnchorBend.Compiler.Preparation;

/// <summary>
/// A part of a model taken out of it: what it was given stands as it was typed, and all names that the levels around it know are declared
/// beside it with the values that they have, so that nothing in it means another thing than before.
/// </summary>
public static class PartAlone
{
    /// <summary>What the part is called where it is alone; no parameter can be called so.</summary>
    public const string Name = "the part";

    /// <param name="whole">The model that the part is in, and <paramref name="document"/> what it was prepared from.</param>
    /// <param name="around">Gets the part under <see cref="Name"/> and the names beside its own parts; it becomes the root.</param>
    public static ModelDocument Of(PreparedModel whole, ModelDocument document, PartPlace place, DiagramDefinition around)
    {
        var values = whole.Model.ParameterValues();
        foreach (var (path, level, diagram) in whole.Map.Levels.OrderBy(l => l.Path.Steps.Count))
            if (IsAround(path, place.Path))
                foreach (var (id, parameter) in diagram.Parameters)
                    // An inner level's name means the inner one.
                    around.Parameters[id] =
                        whole.Model.Find(level.Length == 0 ? id : $"{level}.{id}") is { } variable
                        && Text(variable, values[variable.Index]) is { } text
                            ? parameter with
                            {
                                Value = text,
                                IsDerived = false,
                            }
                            : parameter;
        around.Parts[Name] = new PartNode
        {
            Type = place.Node.Type,
            Name = Name,
            Parameters = place.Node.Parameters,
        };
        var root = "alone";
        while (document.Definitions.ContainsKey(root))
            root += "r";
        return new ModelDocument
        {
            Root = root,
            Definitions = new(document.Definitions) { [root] = around },
            Sheets = document.Sheets,
        };
    }

    static bool IsAround(PartPath level, PartPath part)
    {
        for (var at = part.Above; ; at = at.Above)
        {
            if (at == level)
                return true;
            if (at.IsRoot)
                return false;
        }
    }

    /// <summary>A value as it is typed; null for what stands as a word.</summary>
    static string? Text(FlatVariable variable, double value)
    {
        if (variable.Type == ScalarType.Boolean)
            return value != 0 ? "true" : "false";
        if (variable.Type is not (ScalarType.Real or ScalarType.Integer))
            return null;
        var number = value.ToString("R", CultureInfo.InvariantCulture);
        // A unit that came with the value goes on with it; values are in units of factor 1.
        return variable.Unit is { Factor: 1, Offset: 0, Symbol: { Length: > 0 } symbol } && symbol != "1" ? $"{number} {symbol}" : number;
    }
}
