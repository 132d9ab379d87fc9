using System.Text.Json;
using AnchorBend.Language.Syntax;
using AnchorBend.Modeling.Catalog;
using AnchorBend.Modeling.Documents;

namespace AnchorBend.Interchange;

/// <summary>
/// Reads a model text as a diagram: its components become parts, its connections wires. Our own export reads back to the same model;
/// a text from elsewhere without placements is laid out. A model with equations of its own becomes one part that holds its text.
/// </summary>
public static class TextImport
{
    const double Grid = 8;

    /// <exception cref="DocumentException">The text has errors; the message names the first with line and column.</exception>
    public static ModelDocument Read(string text)
    {
        var (classes, errors) = Parser.ParseFile(text);
        if (errors.Count > 0)
            throw new DocumentException(
                $"The text cannot be read. Line {errors[0].At.Line}, column {errors[0].At.Column}: {errors[0].Message}{(errors.Count > 1 ? $" ({errors.Count - 1} more errors)" : "")}"
            );
        var model = classes.LastOrDefault(c => c.Kind is ClassKind.Model or ClassKind.Block or ClassKind.Class && !c.IsPartial)
            ?? throw new DocumentException("The text holds no model.");
        var catalog = new Modeling.Flattening.ClassList(classes, PartCatalog.Standard);
        var document = IsDiagram(model, catalog) ? Diagram(model, classes, text) : AsOnePart(model, text);
        return ModelDocument.FromJson(document.ToJson());
    }

    /// <summary>Whether everything in the class can be drawn: parameters, parts of known types, connections.</summary>
    static bool IsDiagram(ClassDefinition model, Modeling.Flattening.IClassSource catalog) =>
        model.InitialEquations.Count == 0
        && model.Algorithms.Count == 0
        && model.Equations.All(e => e is ConnectEquation)
        && model.Elements.All(e =>
            e is ComponentDeclaration c
            && c.Condition is null
            && c.Dimensions.Count == 0
            && !c.IsProtected
            && c.Causality == Causality.None
            && (
                c is { Variability: Variability.Parameter, TypeName: "Real" } && c.Modification?.Binding is not null
                || catalog.Find(c.TypeName) is { IsPartial: false } type
                    && (BundlePart.Is(type) || type.Kind is ClassKind.Block or ClassKind.Model or ClassKind.Class)
                    && c.Variability == Variability.Continuous
                    && (c.Modification?.Arguments ?? []).All(a => IsSimple(a))
            )
        );

    static bool IsSimple(ModificationArgument argument) =>
        argument is { Redeclared: null, Each: false }
        && argument.Value.Arguments.All(IsSimple)
        && (argument.Value.Binding is not null || argument.Value.Arguments.Count > 0);

    static ModelDocument AsOnePart(ClassDefinition model, string text)
    {
        var name = Lexer.IsPlainIdentifier(model.Name)
            ? model.Name
            : throw new DocumentException($"A part cannot be called '{model.Name}'. Rename the model with letters and digits.");
        return new ModelDocument
        {
            Name = model.Name,
            Description = model.Description,
            Classes = { [name] = new ClassNode { Text = text } },
            Parts =
            {
                ["p1"] = new PartNode
                {
                    Type = name,
                    Name = name,
                    X = 160,
                    Y = 160,
                },
            },
        };
    }

    static ModelDocument Diagram(ClassDefinition model, IReadOnlyList<ClassDefinition> classes, string text)
    {
        var ours = Ours(model.Annotation);
        var document = new ModelDocument
        {
            Name = model.Name,
            Description = model.Description,
            Settings = Strings(ours, "settings") is [var settings, ..] ? Parsed<RunSettings>(settings) : new RunSettings(),
        };
        var texts = SplitClasses(text, classes);
        foreach (var definition in classes.Where(c => !ReferenceEquals(c, model)))
            document.Classes[definition.Name] = new ClassNode { Text = texts[definition.Name] };
        var ids = new Dictionary<string, string>();
        var source = new Modeling.Flattening.ClassList(classes, PartCatalog.Standard);
        ClassDefinition? Find(string type) => source.Find(type);
        var bundles = model.Components.Where(c => BundlePart.Is(Find(c.TypeName))).Select(c => c.Name).ToHashSet();
        var placed = true;
        foreach (var component in model.Components)
        {
            var own = Ours(component.Annotation);
            if (component.TypeName == "Real")
            {
                document.Parameters[component.Name] = new ParameterNode
                {
                    Value = Strings(own, "typed") is [var typed, ..] ? typed : ValueOf(component),
                    Description = component.Description,
                };
                continue;
            }

            var id = Strings(own, "id") is [var given, ..] && !document.Parts.ContainsKey(given) ? given : $"p{document.Parts.Count + 1}";
            ids[component.Name] = id;
            var parameters = new Dictionary<string, string>();
            foreach (var (name, value) in Flattened("", component.Modification?.Arguments ?? []))
                parameters[name] = ExpressionText.Print(value);
            foreach (var entry in Strings(own, "typed"))
                if (entry.IndexOf('=') is > 0 and var cut)
                    parameters[entry[..cut]] = entry[(cut + 1)..];
            if (BundlePart.Is(Find(component.TypeName)) && own is null)
                parameters[BundlePart.List] = string.Join(", ", MembersOf(component.Name, model));
            var extent = Extent(component.Annotation);
            placed &= extent is not null;
            document.Parts[id] = new PartNode
            {
                Type = component.TypeName,
                Name = component.Name,
                Parameters = parameters,
                Flip = extent is { Flip: true },
                X = extent?.X ?? 0,
                Y = extent?.Y ?? 0,
            };
        }

        foreach (var connect in model.Equations.Cast<ConnectEquation>())
        {
            if (Port(connect.First, ids, bundles) is not { } from || Port(connect.Second, ids, bundles) is not { } to)
                throw new DocumentException($"Line {connect.At.Line}: a connection must join ports of parts, as in connect(a.y, b.u).");
            var own = Ours(connect.Annotation);
            var id = Strings(own, "id") is [var given, ..] && !document.Wires.ContainsKey(given) ? given : $"w{document.Wires.Count + 1}";
            var points = Points(connect.Annotation?.Argument("Line")?.Value.Argument("points")?.Value.Binding);
            document.Wires[id] = new WireNode
            {
                From = from,
                To = to,
                Bends =
                    placed && own is not null && points.Count > 2
                        ? [.. points.Skip(1).SkipLast(1).Select(p => new Point(p.X, Down(p.Y)))]
                        : [],
            };
        }

        foreach (var (key, value) in Entries<WireNode>(ours, "looseWires"))
            document.Wires[key] = value;
        foreach (var (key, value) in Entries<SignalNode>(ours, "signals"))
            document.Signals[key] = value;
        foreach (var (key, value) in Entries<RequirementNode>(ours, "requirements"))
            document.Requirements[key] = value;
        foreach (var (key, value) in Entries<AreaNode>(ours, "areas"))
            document.Areas[key] = value;
        if (ours is null && model.Annotation?.Argument("experiment")?.Value.Argument("StopTime")?.Value.Binding is { } stop)
            document = document with { Settings = document.Settings with { End = ExpressionText.Print(stop) + " s" } };
        return placed ? document : DiagramLayout.Arrange(document, PartCatalog.Of(document));
    }

    /// <summary>The text of each class, cut where the class begins.</summary>
    static Dictionary<string, string> SplitClasses(string text, IReadOnlyList<ClassDefinition> classes)
    {
        var lines = text.Split('\n');
        var starts = classes.Select(c => lines.Take(c.At.Line - 1).Sum(l => l.Length + 1) + c.At.Column - 1).ToList();
        return Enumerable
            .Range(0, classes.Count)
            .GroupBy(i => classes[i].Name)
            .ToDictionary(
                g => g.Key,
                g =>
                {
                    var i = g.Last();
                    return text[starts[i]..(i + 1 < starts.Count ? starts[i + 1] : text.Length)].TrimEnd();
                }
            );
    }

    static string ValueOf(ComponentDeclaration parameter)
    {
        var value = ExpressionText.Print(parameter.Modification!.Binding!);
        return parameter.Modification.Argument("unit")?.Value.Binding is StringLiteral { Value.Length: > 0 } unit
            ? $"{value} {unit.Value}"
            : value;
    }

    static IEnumerable<(string Name, Expression Value)> Flattened(string prefix, IEnumerable<ModificationArgument> arguments)
    {
        foreach (var argument in arguments)
        {
            if (argument.Value.Binding is { } binding)
                yield return (prefix + argument.Name, binding);
            foreach (var inner in Flattened(prefix + argument.Name + ".", argument.Value.Arguments))
                yield return inner;
        }
    }

    /// <summary>The members of a bundle that a foreign text connects.</summary>
    static IEnumerable<string> MembersOf(string bundle, ClassDefinition model) =>
        model
            .Equations.OfType<ConnectEquation>()
            .SelectMany(c => new[] { c.First, c.Second })
            .Where(r => r.Parts.Count > 1 && r.Parts[0].Name == bundle)
            .Select(r => ExpressionText.Print(r with { Parts = [.. r.Parts.Skip(1)] }))
            .Distinct();

    static PortReference? Port(Reference reference, Dictionary<string, string> ids, HashSet<string> bundles) =>
        reference.Parts is [{ Subscripts.Count: 0 } whole] && bundles.Contains(whole.Name)
            ? new PortReference(ids[whole.Name], BundlePart.Whole)
        : reference.Parts.Count >= 2 && reference.Parts[0].Subscripts.Count == 0 && ids.TryGetValue(reference.Parts[0].Name, out var id)
            ? new PortReference(id, ExpressionText.Print(reference with { Parts = [.. reference.Parts.Skip(1)] }))
        : null;

    static Modification? Ours(Modification? annotation) => annotation?.Argument("__AnchorBend")?.Value;

    static IReadOnlyList<string> Strings(Modification? annotation, string name) =>
        annotation?.Argument(name)?.Value.Binding switch
        {
            StringLiteral s => [s.Value],
            ArrayLiteral a => [.. a.Elements.OfType<StringLiteral>().Select(s => s.Value)],
            _ => [],
        };

    static IEnumerable<(string Key, T Value)> Entries<T>(Modification? annotation, string name)
    {
        foreach (var entry in Strings(annotation, name))
        {
            var cut = entry.IndexOf(": {", StringComparison.Ordinal);
            if (cut > 0)
                yield return (entry[..cut], Parsed<T>(entry[(cut + 2)..]));
        }
    }

    static T Parsed<T>(string json)
    {
        try
        {
            return JsonSerializer.Deserialize<T>(json, TextExport.Json)
                ?? throw new DocumentException("An annotation of the text is empty.");
        }
        catch (JsonException e)
        {
            throw new DocumentException($"An annotation of the text cannot be read: {e.Message}");
        }
    }

    static (double X, double Y, bool Flip)? Extent(Modification? annotation)
    {
        var points = Points(annotation?.Argument("Placement")?.Value.Argument("transformation")?.Value.Argument("extent")?.Value.Binding);
        if (points is not [var a, var b])
            return null;
        // Foreign diagrams need not lie on our grid.
        return Ours(annotation) is not null
            ? (Math.Min(a.X, b.X), Down(Math.Max(a.Y, b.Y)), a.X > b.X)
            : (Grid * Math.Round(2 * Math.Min(a.X, b.X) / Grid), Grid * Math.Round(-2 * Math.Max(a.Y, b.Y) / Grid), a.X > b.X);
    }

    static List<(double X, double Y)> Points(Expression? expression) =>
        expression is ArrayLiteral list
            ?
            [
                .. list
                    .Elements.OfType<ArrayLiteral>()
                    .Where(p => p.Elements.Count == 2)
                    .Select(p => (Value(p.Elements[0]), Value(p.Elements[1]))),
            ]
            : [];

    static double Value(Expression expression) =>
        expression switch
        {
            NumberLiteral n => n.Value,
            Unary { Kind: UnaryKind.Minus, Operand: NumberLiteral n } => -n.Value,
            _ => 0,
        };

    /// <summary>Turned over, without a negative zero.</summary>
    static double Down(double y) => y == 0 ? 0 : -y;
}
