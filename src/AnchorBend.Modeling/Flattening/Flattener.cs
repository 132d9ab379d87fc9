using AnchorBend.Language;
using AnchorBend.Language.Binding;
using AnchorBend.Language.Syntax;
using AnchorBend.Language.Terms;
using AnchorBend.Modeling.Flat;

namespace AnchorBend.Modeling.Flattening;

/// <summary>
/// Elaborates a class to a flat model: makes instances, binds parameters, expands arrays and loops, makes connection sets and turns
/// when-clauses into equations (Modelica Language Specification 3.6, chapters 5, 7 to 11). Errors become findings; the rest goes on.
/// </summary>
public sealed partial class Flattener
{
    internal const string FollowUp = "follow-up";

    readonly IClassSource classes;
    readonly FlatModel model;
    readonly List<Finding> findings = [];
    readonly IReadOnlyDictionary<string, Expression> overrides;
    readonly List<Member> allMembers = [];
    readonly List<Instance> allInstances = [];
    readonly WorkBudget budget = WorkBudget.Current;

    /// <summary>What is being worked on.</summary>
    (string Part, string? Item) at = ("", null);

    int auxiliaries;
    int depth;

    Flattener(IClassSource classes, string name, IReadOnlyDictionary<string, Expression> overrides)
    {
        this.classes = classes;
        this.overrides = overrides;
        model = new FlatModel { Name = name };
        NewVariable("time", VariableRole.External, ScalarType.Real, unit: "s");
        NewVariable("initial()", VariableRole.External, ScalarType.Boolean);
    }

    /// <summary>Flattens one class.</summary>
    /// <param name="overrides">Expressions for parameters by path, which replace what the model says.</param>
    /// <returns>The flat model, complete as far as it could be made, and what was found.</returns>
    public static (FlatModel Model, IReadOnlyList<Finding> Findings) Flatten(
        ClassDefinition root,
        IClassSource classes,
        IReadOnlyDictionary<string, Expression>? overrides = null
    )
    {
        using var counted = WorkBudget.BeginCount();
        var flattener = new Flattener(classes, root.Name, overrides ?? new Dictionary<string, Expression>());
        try
        {
            flattener.Run(root);
            return (flattener.model, flattener.findings);
        }
        catch (BudgetException e)
        {
            // What there is of such a model helps nobody; nothing of it is kept.
            var finding = new Finding(
                Severity.Error,
                e.Error.Code,
                e.Error.Message,
                flattener.at.Part,
                flattener.at.Item,
                e.Error.At,
                e.Error.Suggestion
            );
            return (new Flattener(classes, root.Name, flattener.overrides).model, [finding]);
        }
    }

    void Run(ClassDefinition root)
    {
        Instance? top = null;
        Guard("", () => top = MakeInstance("", new LexicalClass(root, null), []));
        if (top is null)
            return;
        for (var i = 0; i < allMembers.Count; i++)
        {
            var member = allMembers[i];
            Guard(member.Owner.Path, () => Ensure(member), member.Declaration.Name);
        }

        foreach (var path in overrides.Keys.Where(p => !usedOverrides.Contains(p)))
            findings.Add(
                new Finding(
                    Severity.Error,
                    "unknown-name",
                    $"There is no parameter '{path}' to set.",
                    "",
                    path,
                    Suggestion: Nearest.Of(path, model.Variables.Where(v => v.Role == VariableRole.Parameter).Select(v => v.Name))
                        is { } near
                        ? $"Did you mean {near}?"
                        : null
                )
            );
        foreach (var member in allMembers)
            Guard(member.Owner.Path, () => BindAttributes(member), member.Declaration.Name);
        foreach (var instance in allInstances)
        foreach (var (equation, initial) in instance.Equations)
            Guard(instance.Path, () => Expand(instance, equation, initial));
        foreach (var instance in allInstances)
        foreach (var section in instance.Algorithms)
            Guard(instance.Path, () => Expand(instance, section));
        budget.Check();
        ConnectBundles();
        budget.Check();
        ConnectAll(top);
        budget.Check();
        CompleteNetworks();
        budget.Equations(model.Equations.Count, "", default);
    }

    /// <summary>Runs one piece of work; an error in it becomes a finding and the rest goes on.</summary>
    void Guard(string part, Action work, string? item = null)
    {
        var outer = at;
        at = (part, item);
        try
        {
            work();
            at = outer;
        }
        catch (LanguageException e)
        {
            at = outer;
            // What fails only because something else failed would hide the reason.
            if (findings.Count > 500 || e.Error.Code == FollowUp)
                return;
            var owner = e.Data["part"] as string ?? part;
            findings.Add(
                new Finding(
                    Severity.Error,
                    e.Error.Code,
                    e.Error.Message,
                    owner,
                    e.Data["item"] as string ?? item,
                    e.Error.At,
                    e.Error.Suggestion
                )
                {
                    Replacement = e.Data["replacement"] as string,
                }
            );
        }
    }

    internal FlatModel Model => model;

    internal FlatVariable NewVariable(
        string name,
        VariableRole role,
        ScalarType type,
        string owner = "",
        string? unit = null,
        Member? member = null
    )
    {
        var declaration = member?.Declaration;
        budget.Variables(1, name, declaration?.At ?? default);
        var variable = new FlatVariable(model.Variables.Count, name, role, type)
        {
            Owner = owner,
            Description = declaration?.Description,
            At = declaration?.At ?? default,
            IsProtected = declaration?.IsProtected ?? false,
            Causality = declaration?.Causality ?? Causality.None,
            Choices = member?.EnumerationType?.Enumeration,
        };
        if (unit is not null && Language.Units.Unit.TryParse(unit, out var parsed, out _))
            variable.Unit = parsed;
        model.Variables.Add(variable);
        return variable;
    }

    internal string AuxiliaryName(string owner, string what) => (owner.Length == 0 ? "" : owner + ".") + $"${what}{++auxiliaries}";

    /// <summary>The class a type name means at a place: nested classes from inside out, then the library.</summary>
    internal LexicalClass? FindClass(string name, LexicalClass from, Instance? instance = null)
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
}
