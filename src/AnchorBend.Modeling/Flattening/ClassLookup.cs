using AnchorBend.Language;
using AnchorBend.Language.Binding;
using AnchorBend.Language.Syntax;
using AnchorBend.Language.Terms;
using AnchorBend.Modeling.Flat;

namespace AnchorBend.Modeling.Flattening;

/// <summary>What class a name means at a place: nested classes from inside out, imports, then the library.</summary>
sealed class ClassLookup(IClassSource classes)
{
    /// <summary>The class a type name means at a place: nested classes from inside out, then the library.</summary>
    public LexicalClass? FindClass(string name, LexicalClass from, Instance? instance = null)
    {
        var dot = name.IndexOf('.');
        var first = dot < 0 ? name : name[..dot];
        var found = instance?.Redeclared.GetValueOrDefault(first);
        if (instance is not null && found is null)
            foreach (var inherited in instance.Inherited)
                if (Nested(inherited.Definition, first) is { } nested)
                    found = new LexicalClass(nested, inherited);
        for (var scope = from; scope is not null && found is null; scope = scope.Around)
        {
            if (Nested(scope.Definition, first) is { } nested)
                found = new LexicalClass(nested, scope);
            foreach (var import in Contents(scope.Definition).Imports)
            {
                if (found is not null)
                    break;
                var short_ = import.Alias ?? import.Name[(import.Name.LastIndexOf('.') + 1)..];
                if (import.All)
                    found = Imported(import.Name + "." + first, scope);
                else if (short_ == first)
                    found = Imported(import.Name, scope);
            }
        }

        return found is null ? FromTop(name)
            : dot < 0 ? found
            : Inside(found, name[(dot + 1)..]);
    }

    readonly Dictionary<ClassDefinition, (Dictionary<string, ClassDefinition> Classes, ImportClause[] Imports)> contents = new(
        ReferenceEqualityComparer.Instance
    );

    /// <summary>Classes and imports of a class, which names are looked up in again and again among its many components.</summary>
    (Dictionary<string, ClassDefinition> Classes, ImportClause[] Imports) Contents(ClassDefinition definition)
    {
        if (contents.TryGetValue(definition, out var known))
            return known;
        var classes = new Dictionary<string, ClassDefinition>();
        foreach (var nested in definition.Classes)
            classes.TryAdd(nested.Name, nested);
        return contents[definition] = (classes, [.. definition.Elements.OfType<ImportClause>()]);
    }

    ClassDefinition? Nested(ClassDefinition definition, string name) => Contents(definition).Classes.GetValueOrDefault(name);

    /// <summary>A class by its full name.</summary>
    LexicalClass? FromTop(string name)
    {
        if (classes.Find(name) is { } whole)
            return new LexicalClass(whole, null);
        var dot = name.IndexOf('.');
        return dot < 0 || classes.Find(name[..dot]) is not { } top ? null : Inside(new LexicalClass(top, null), name[(dot + 1)..]);
    }

    /// <summary>An imported class: by its full name, or from a package of the same text.</summary>
    LexicalClass? Imported(string name, LexicalClass from)
    {
        if (FromTop(name) is { } whole)
            return whole;
        var dot = name.IndexOf('.');
        for (var scope = from; scope is not null; scope = scope.Around)
            if (scope.Definition.Classes.FirstOrDefault(c => c.Name == (dot < 0 ? name : name[..dot])) is { } package)
                return dot < 0 ? new LexicalClass(package, scope) : Inside(new LexicalClass(package, scope), name[(dot + 1)..]);
        return null;
    }

    static LexicalClass? Inside(LexicalClass? found, string name)
    {
        foreach (var part in name.Split('.'))
            found = found?.Definition.Classes.FirstOrDefault(c => c.Name == part) is { } nested ? new LexicalClass(nested, found) : null;
        return found;
    }

    public LanguageException UnknownClass(string name, Position at) =>
        new(
            "unknown-class",
            $"There is no part or type '{name}'.",
            at,
            Nearest.Of(name, classes.Names.Append("Real").Append("Integer").Append("Boolean")) is { } near ? $"Did you mean {near}?" : null
        );
}
