using AnchorBend.Language;
using AnchorBend.Language.Syntax;

namespace AnchorBend.Modeling.Written;

/// <summary>What a text of a chart reads and sets; nothing where it cannot be read, which the class tells.</summary>
/// <param name="Reads">Names that it speaks of.</param>
/// <param name="Sets">Names that it gives values to.</param>
sealed record WrittenTexts(IReadOnlySet<string> Reads, IReadOnlySet<string> Sets)
{
    public static readonly WrittenTexts None = new(new HashSet<string>(), new HashSet<string>());

    public static WrittenTexts OfCondition(string? text) =>
        Condition(text) is { } read ? new WrittenTexts(References.In(read).Select(r => r.Parts[0].Name).ToHashSet(), None.Sets) : None;

    /// <summary>The condition as it was typed; null where there is none that can be read.</summary>
    public static Expression? Condition(string? text)
    {
        try
        {
            return text is { Length: > 0 } ? Parser.ParseExpression(Parser.InCoherentUnits(text)) : null;
        }
        catch (LanguageException)
        {
            return null;
        }
    }

    static string? Coherent(string text)
    {
        try
        {
            return Parser.InCoherentUnits(text);
        }
        catch (LanguageException)
        {
            return null;
        }
    }

    public static WrittenTexts OfStatements(string? text)
    {
        if (text is not { Length: > 0 })
            return None;
        if (Coherent(text) is not { } coherent)
            return None;
        var (classes, errors) = Parser.ParseFile($"model X\nalgorithm\n{coherent.Trim().TrimEnd(';', ' ', '\n')}\n;\nend X;");
        if (errors.Count > 0 || classes is not [{ Algorithms: [var body] }])
            return None;
        var (reads, sets) = (new HashSet<string>(), new HashSet<string>());
        foreach (var statement in body.Statements)
            Walk(statement);
        return new WrittenTexts(reads, sets);

        void Read(Expression? expression) => reads.UnionWith(References.In(expression).Select(r => r.Parts[0].Name));

        void Set(Reference? target)
        {
            if (target is not null)
                sets.Add(target.Parts[0].Name);
        }

        void Walk(Statement statement)
        {
            switch (statement)
            {
                case AssignStatement a:
                    Set(a.Target);
                    Read(a.Value);
                    break;
                case AssignManyStatement a:
                    foreach (var target in a.Targets)
                        Set(target);
                    Read(a.Call);
                    break;
                case IfStatement i:
                    foreach (var (condition, inner) in i.Branches)
                    {
                        Read(condition);
                        All(inner);
                    }

                    All(i.Otherwise);
                    break;
                case ForStatement f:
                    foreach (var (_, range) in f.Iterators)
                        Read(range);
                    All(f.Body);
                    break;
                case WhileStatement w:
                    Read(w.Condition);
                    All(w.Body);
                    break;
                case CallStatement c:
                    Read(c.Call);
                    break;
            }
        }

        void All(IEnumerable<Statement>? statements)
        {
            foreach (var statement in statements ?? [])
                Walk(statement);
        }
    }
}
