using System.Runtime.CompilerServices;
using AnchorBend.Modeling.Documents;

namespace AnchorBend.Modeling.Written;

/// <summary>
/// A class that is edited in a form of its own, as a chart or a table, and written as text of the equation language from there: nothing
/// behind that text knows of forms.
/// </summary>
public abstract record WrittenDefinition : Definition
{
    /// <summary>What its texts may name, in the order of their ports.</summary>
    public Dictionary<string, NameNode> Names { get; init; } = [];

    /// <summary>What people call one of these.</summary>
    internal abstract string Noun { get; }

    /// <summary>The text of the class that it comes to.</summary>
    /// <exception cref="Language.LanguageException">A text in it says nothing.</exception>
    /// <exception cref="DocumentException">Its form is broken.</exception>
    internal abstract string Write();

    /// <exception cref="DocumentException">It holds more than it may, or is broken.</exception>
    internal abstract void Check();

    /// <summary>Id of the state, transition, rule or phase that a place in the class it comes to is of; null for what is of none.</summary>
    public string? ItemAt(Language.Syntax.Position at) =>
        at.Line > 0 && WrittenClass.For(this).Text is { } text ? ItemMarks.ItemAt(text, at) : null;

    /// <summary>What people call such an item; null where there is none of that id.</summary>
    public abstract string? NameOf(string item);

    /// <summary>The class that it comes to; null where something is wrong in it.</summary>
    public Language.Syntax.ClassDefinition? Parsed() => WrittenClass.For(this).Definition;

    /// <summary>The same with other texts.</summary>
    /// <param name="text">A text of the equation language for the one that is there; null for null.</param>
    /// <param name="name">A name for one that stands alone.</param>
    internal abstract WrittenDefinition WithTexts(Func<string?, string?> text, Func<string?, string?> name);

    /// <summary>What can be seen in it without running it.</summary>
    public IReadOnlyList<WrittenFinding> Review() => Reviews.GetValue(this, d => d.ReviewedOrNone());

    /// <summary>Local names of the variables that people look at: its names, and what its class tells of how it goes.</summary>
    public IReadOnlySet<string> Shown() =>
        Tellings
            .GetValue(this, d => new LocalNames(
                d.Names.Values.Select(n => n.Name).Concat(d.Tells().Values).Concat(d.ToldBesides).ToHashSet()
            ))
            .All;

    private protected abstract IReadOnlyList<WrittenFinding> Reviewed();

    /// <summary>By the ids of states, transitions, phases or rules: the variables that tell of them, by local names; nothing where the
    /// form is broken.</summary>
    public IReadOnlyDictionary<string, string> Tells()
    {
        try
        {
            return Told();
        }
        catch (DocumentException)
        {
            return new Dictionary<string, string>();
        }
    }

    /// <exception cref="DocumentException">The form is broken.</exception>
    private protected abstract IReadOnlyDictionary<string, string> Told();

    /// <summary>Other variables that people look at.</summary>
    private protected virtual IEnumerable<string> ToldBesides => [];

    IReadOnlyList<WrittenFinding> ReviewedOrNone()
    {
        try
        {
            return Reviewed();
        }
        catch (DocumentException)
        {
            // The class that it comes to tells it.
            return [];
        }
    }

    sealed record LocalNames(IReadOnlySet<string> All);

    // A definition never changes, so what is found in it is kept for as long as it is there.
    static readonly ConditionalWeakTable<WrittenDefinition, IReadOnlyList<WrittenFinding>> Reviews = [];
    static readonly ConditionalWeakTable<WrittenDefinition, LocalNames> Tellings = [];
}
