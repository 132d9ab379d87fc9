using AnchorBend.Language.Syntax;
using AnchorBend.Modeling.Catalog;
using AnchorBend.Modeling.Documents;
using AnchorBend.Modeling.Flattening;

namespace AnchorBend.Interchange;

/// <summary>
/// Reads a model text: its components become parts, its connections wires, the diagrams nested in it definitions. Our own export reads
/// back to the same model; a text from elsewhere without placements is laid out. A model with equations of its own becomes one part that
/// holds its text.
/// </summary>
public static class TextImport
{
    /// <exception cref="DocumentException">The text has errors; the message names the first with line and column.</exception>
    public static ModelDocument Read(string text) => Read(text, false);

    /// <summary>Reads the text of a part that was drawn as a level: its root has ports.</summary>
    /// <exception cref="DocumentException">The text has errors, or was not drawn.</exception>
    public static ModelDocument ReadPart(string text)
    {
        var document = Read(text, true);
        return document.Definitions.GetValueOrDefault("own") is TextDefinition
            ? throw new DocumentException("The part was written as a text; there is no diagram to take in.")
            : document;
    }

    static ModelDocument Read(string text, bool isPart)
    {
        var (classes, errors) = Parser.ParseFile(text);
        if (errors.Count > 0)
        {
            var (at, more) = (errors[0].At, errors.Count > 1 ? $" ({errors.Count - 1} more errors)" : "");
            throw new DocumentException($"The text cannot be read. Line {at.Line}, column {at.Column}: {errors[0].Message}{more}");
        }

        var model = classes.LastOrDefault(c => c.Kind is ClassKind.Model or ClassKind.Block or ClassKind.Class && !c.IsPartial)
            ?? throw new DocumentException("The text holds no model.");
        var nested = model.Classes.ToList();
        var catalog = new ClassList([.. classes, .. nested], PartCatalog.Standard);
        var isDrawn = IsDiagram(model, catalog, isPart) && nested.TrueForAll(n => IsDiagram(n, catalog, true) && !n.Classes.Any());
        var document = isDrawn ? Drawn(model, classes, text, catalog) : AsOnePart(model, text);
        return ModelDocument.FromJson(document.ToJson());
    }

    /// <summary>Whether everything in the class can be drawn: parameters, ports, parts of known types, connections.</summary>
    static bool IsDiagram(ClassDefinition model, ClassList catalog, bool hasPorts) =>
        model.Kind is ClassKind.Model or ClassKind.Block or ClassKind.Class
        && model.InitialEquations.Count == 0
        && model.Algorithms.Count == 0
        && model.Equations.All(e => e is ConnectEquation)
        && model.Elements.All(e => e is NestedClass || e is ComponentDeclaration c && IsDrawable(c, catalog, hasPorts));

    static bool IsDrawable(ComponentDeclaration c, ClassList catalog, bool hasPorts)
    {
        if (DiagramReader.StandsIn(c.Annotation))
            return true;
        if (c.Condition is not null && (c.Causality != Causality.None || c.Variability != Variability.Continuous))
            return false;
        if (c.Dimensions.Count > (c.Causality == Causality.None ? 0 : 1))
            return false;
        if (c.Causality != Causality.None)
            return hasPorts && c.TypeName is "Real" or "Integer" or "Boolean";
        if (DiagramReader.IsCondition(c))
            return true;
        if (c is { Variability: Variability.Parameter, TypeName: "Real" or "Boolean" or "String" })
            return c.Modification?.Binding is not null || DiagramReader.IsFromAbove(c);
        var type = catalog.Find(c.TypeName);
        if (PortPart.KindOf(type) is not null)
            return hasPorts;
        return type is { IsPartial: false }
            && (!c.IsProtected || BundlePart.Is(type))
            && (BundlePart.Is(type) || type.Kind is ClassKind.Block or ClassKind.Model or ClassKind.Class)
            && c.Variability == Variability.Continuous
            && (c.Modification?.Arguments ?? []).All(IsSimple);
    }

    static bool IsSimple(ModificationArgument argument) =>
        argument is { Redeclared: null, Each: false }
        && argument.Value.Arguments.All(IsSimple)
        && (argument.Value.Binding is not null || argument.Value.Arguments.Count > 0);

    static ModelDocument AsOnePart(ClassDefinition model, string text)
    {
        var name = Lexer.IsPlainIdentifier(model.Name)
            ? model.Name
            : throw new DocumentException($"A part cannot be called '{model.Name}'. Rename the model with letters and digits.");
        var main = new DiagramDefinition
        {
            Name = model.Name,
            Description = model.Description,
            Parts =
            {
                ["p1"] = new PartNode
                {
                    Type = DefinitionReference.OfOwn("own"),
                    Name = name,
                    X = 160,
                    Y = 160,
                },
            },
        };
        return main.AsModel().With("own", new TextDefinition { Name = name, Text = text });
    }

    static ModelDocument Drawn(ClassDefinition model, IReadOnlyList<ClassDefinition> classes, string text, ClassList catalog)
    {
        var ours = Annotations.Ours(model.Annotation);
        var root = Annotations.Text(ours, "id") ?? ModelDocument.MainId;
        var document = new ModelDocument
        {
            Root = root,
            Settings = Annotations.Strings(ours, "settings") is [var settings, ..]
                ? Annotations.Parsed<RunSettings>(settings)
                : new RunSettings(),
        };
        var ids = Ids(model, classes, ours, root);
        var reader = new DiagramReader(catalog, name => ids.TryGetValue(name, out var id) ? DefinitionReference.OfOwn(id) : name);
        document.Definitions[root] = reader.Read(model);
        foreach (var definition in model.Classes)
            document.Definitions[ids[definition.Name]] = reader.Read(definition);
        var texts = SplitClasses(text, classes);
        foreach (var definition in classes.Where(c => !ReferenceEquals(c, model)))
            document.Definitions[ids[definition.Name]] = Annotations.Text(Annotations.Ours(definition.Annotation), "form") is { } form
                ? Annotations.Parsed<Definition>(form)
                : new TextDefinition { Name = definition.Name, Text = texts[definition.Name] };
        foreach (var (key, value) in Annotations.Entries<SheetNode>(ours, "sheets"))
            document.Sheets[key] = value with
            {
                Rows = Annotations.Entries<RowNode>(ours, $"rowsOf_{key}").ToDictionary(r => r.Key, r => r.Value),
            };
        foreach (var (key, value) in Annotations.Entries<RequirementNode>(ours, "requirements"))
            document.Requirements[key] = value;
        foreach (var (key, value) in Annotations.Entries<MeasureNode>(ours, "measures"))
            document.Measures[key] = value;
        foreach (var (key, value) in Annotations.Entries<PlotSheetNode>(ours, "plotSheets"))
            document.PlotSheets[key] = value;
        foreach (var (key, value) in Annotations.Entries<StimulusNode>(ours, "stimuli"))
            document.Stimuli[key] = value;
        foreach (var (key, value) in Annotations.Entries<StudyNode>(ours, "studies"))
            document.Studies[key] = value;
        foreach (var (key, value) in Annotations.Entries<ToleranceNode>(ours, "tolerances"))
            document.Tolerances[key] = value;
        foreach (var (key, value) in Annotations.Entries<ToleranceGroupNode>(ours, "toleranceGroups"))
            document.ToleranceGroups[key] = value;
        foreach (var (key, value) in Annotations.Entries<CaseNode>(ours, "cases"))
            document.Cases[key] = value;
        foreach (var (key, value) in Annotations.Entries<CaseGroupNode>(ours, "caseGroups"))
            document.CaseGroups[key] = value;
        foreach (var (key, value) in Annotations.Entries<JustificationNode>(ours, "justifications"))
            document.Justifications[key] = value;
        foreach (var (key, value) in Annotations.Entries<FaultTreeNode>(ours, "faultTrees"))
            document.FaultTrees[key] = value;
        foreach (var (key, value) in Annotations.Entries<OperatingPointNode>(ours, "operatingPoints"))
            document.OperatingPoints[key] = value;
        foreach (var (key, value) in Annotations.Entries<PanelNode>(ours, "panels"))
            document.Panels[key] = value;
        foreach (var (key, value) in Annotations.Entries<AlertNode>(ours, "alerts"))
            document.Alerts[key] = value;
        foreach (var (key, value) in Annotations.Entries<FaultNode>(ours, "faults"))
            document.Faults[key] = value;
        foreach (var (key, value) in Annotations.Entries<DeliveryNode>(ours, "deliveries"))
            document.Deliveries[key] = value;
        if (ours is null && model.Annotation?.Argument("experiment")?.Value.Argument("StopTime")?.Value.Binding is { } stop)
            document = document with { Settings = document.Settings with { End = ExpressionText.Print(stop) + " s" } };
        foreach (var id in reader.Unplaced.Select(d => document.Definitions.First(e => ReferenceEquals(e.Value, d)).Key).ToList())
        {
            var arranged = DiagramLayout.Arrange((DiagramDefinition)document.Definitions[id], PartCatalog.Of(document));
            document = document.With(id, arranged);
        }

        return document;
    }

    /// <summary>Ids of definitions by the names of their classes: those that our export gave, else made of the names.</summary>
    static Dictionary<string, string> Ids(ClassDefinition model, IReadOnlyList<ClassDefinition> classes, Modification? ours, string root)
    {
        var ids = new Dictionary<string, string>();
        var taken = new HashSet<string> { root };
        foreach (var entry in Annotations.Strings(ours, "texts"))
            if (entry.IndexOf(": ", StringComparison.Ordinal) is > 0 and var cut && taken.Add(entry[..cut]))
                ids[entry[(cut + 2)..]] = entry[..cut];
        foreach (var nested in model.Classes)
            if (Annotations.Text(Annotations.Ours(nested.Annotation), "id") is { } id && taken.Add(id))
                ids[nested.Name] = id;
        foreach (var name in classes.Where(c => !ReferenceEquals(c, model)).Concat(model.Classes).Select(c => c.Name))
        {
            if (ids.ContainsKey(name))
                continue;
            var id = PartPath.IsId(name) ? name : "d" + (ids.Count + 1);
            for (var n = 2; !taken.Add(id); n++)
                id = $"d{ids.Count + n}";
            ids[name] = id;
        }

        return ids;
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
}
