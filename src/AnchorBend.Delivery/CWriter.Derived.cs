using AnchorBend.Compiler.Lowering;
using AnchorBend.Language.Terms;
using AnchorBend.Modeling.Flat;

namespace AnchorBend.Delivery;

/// <summary>Parameters that follow from those that may be changed are computed once in a step.</summary>
public sealed partial class CWriter
{
    /// <summary>Those that something reads, in the order in which one leads to the next.</summary>
    readonly List<(string Name, FlatVariable Parameter, IReadOnlyList<string> Lines)> derived = [];

    readonly Dictionary<int, string> derivedNames = [];

    /// <summary>The name of the field of the state that such a parameter is kept in.</summary>
    string Derive(FlatVariable parameter)
    {
        if (derivedNames.TryGetValue(parameter.Index, out var known))
            return known;
        var name = derivedNames[parameter.Index] = places.Free.Free(CNames.Plain(CodeUnit.PathWithin(parameter.Name)));
        var lines = Computed(name, parameter.Binding!, $"s->{name} = ");
        derived.Add((name, parameter, lines));
        return name;
    }

    void DeriveFirst(CFile body)
    {
        if (derived.Count > 0)
            body.Line($"{prefix}_derive(s, p);");
    }

    void DeriveFunction(CFile file)
    {
        if (derived.Count == 0)
            return;
        var body = new CFile(1);
        foreach (var line in derived.SelectMany(d => d.Lines))
            body.Line(line);
        Unit(
            file,
            $"static void {prefix}_derive({prefix}_state *s, const {prefix}_parameters *p)",
            "What follows from the parameters.",
            body
        );
    }

    /// <summary>Lines that compute a term from values as they are kept, and hand it on.</summary>
    /// <param name="name">What locals on the way are called after.</param>
    List<string> Computed(string name, Term term, string before, string after = "")
    {
        List<string> lines = [];
        Dictionary<int, (string Name, bool IsBoolean)> locals = [];
        var body = unit.Program.Terms([term]).Body;
        var uses = body.SelectMany(CFunctions.All).OfType<LocalCode>().CountBy(l => l.Local).ToDictionary();
        foreach (var statement in body)
        {
            var printer = new CPrinter(unit, places, p => Read(p, "s->x.", "dx->"), l => locals[l])
            {
                Derive = Derive,
                Kept = h => relations.Contains(h.Place) ? "s->" + Field(h.Place) : null,
                Inlines = l => !uses.ContainsKey(l),
                Named = (l, isBoolean) => (locals[l] = ($"{name}_{l + 1}", isBoolean)).Name,
            };
            var value = statement switch
            {
                ResultStatement r => printer.Value(r.Value),
                LocalStatement l => printer.Value(new LetCode(l.Local, l.Value)),
                _ => throw new InvalidOperationException($"a term came to a {statement.GetType().Name}"),
            };
            foreach (var (local, text, isBoolean) in printer.Lets)
                lines.Add($"const {(isBoolean ? "bool" : real)} {locals[local].Name} = {text};");
            if (statement is ResultStatement)
                lines.Add(before + value + after + ";");
            Take(printer);
        }

        return lines;
    }
}
