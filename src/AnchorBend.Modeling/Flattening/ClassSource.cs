using AnchorBend.Language.Syntax;

namespace AnchorBend.Modeling.Flattening;

/// <summary>Finds classes by their full name.</summary>
public interface IClassSource
{
    ClassDefinition? Find(string name);

    IEnumerable<string> Names { get; }
}

/// <summary>Classes of a file, with another source behind them.</summary>
public sealed class ClassList(IEnumerable<ClassDefinition> classes, IClassSource? behind = null) : IClassSource
{
    readonly Dictionary<string, ClassDefinition> byName = classes.GroupBy(c => c.Name).ToDictionary(g => g.Key, g => g.Last());

    public ClassDefinition? Find(string name) => byName.TryGetValue(name, out var found) ? found : behind?.Find(name);

    public IEnumerable<string> Names => byName.Keys.Concat(behind?.Names ?? []);
}

/// <summary>A class and the classes around it, for looking names up from inside out.</summary>
sealed record LexicalClass(ClassDefinition Definition, LexicalClass? Around);
