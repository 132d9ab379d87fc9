using AnchorBend.Language.Syntax;
using AnchorBend.Language.Terms;

namespace AnchorBend.Language.Binding;

public enum ScalarType
{
    Real,
    Integer,
    Boolean,
    String,
    Enumeration,
}

/// <summary>A bound expression: type, shape (empty for a scalar) and one term an element, last index fastest.</summary>
public sealed record Value(ScalarType Type, int[] Shape, Term[] Elements)
{
    /// <summary>The content of a string constant.</summary>
    public string? Text { get; init; }

    /// <summary>The enumeration's name where <see cref="Type"/> is an enumeration.</summary>
    public string? Enumeration { get; init; }

    public bool IsScalar => Shape.Length == 0;

    public bool IsNumeric => Type is ScalarType.Real or ScalarType.Integer;

    public static Value Scalar(ScalarType type, Term term) => new(type, [], [term]);

    public static Value Real(Term term) => Scalar(ScalarType.Real, term);

    public static Value OfString(string text) => new(ScalarType.String, [], []) { Text = text };

    /// <summary>How many elements a shape has; −1 where a size is negative. Sizes whose product overflows have as many as can be
    /// counted.</summary>
    public static long CountOf(int[] shape)
    {
        var count = 1.0;
        foreach (var size in shape)
        {
            if (size < 0)
                return -1;
            count *= size;
        }

        return (long)Math.Min(count, 1L << 62);
    }

    public static string ShapeText(int[] shape) => shape.Length == 0 ? "a scalar" : $"an array [{string.Join(", ", shape)}]";

    /// <summary>The one term of a scalar.</summary>
    /// <exception cref="LanguageException">The value is an array or a string.</exception>
    public Term ScalarTerm(Position at) =>
        IsScalar && Elements.Length == 1
            ? Elements[0]
            : throw new LanguageException(
                "shape",
                Type == ScalarType.String ? "A number is needed here, not a string." : $"A scalar is needed here, not {ShapeText(Shape)}.",
                at
            );
}

/// <summary>What the binder needs to know about the place where an expression stands.</summary>
public interface IScope
{
    /// <summary>The value a name stands for; <paramref name="subscripts"/> binds the subscripts in the right place.</summary>
    Value Resolve(Reference reference, Func<Expression, int?, Value> subscripts);

    /// <summary>The derivative of a continuous variable, made on first use; zero for parameters.</summary>
    Term DerivativeOf(int variable, Position at);

    /// <summary>The value of a term of parameters, now; the parameters it reads become structural.</summary>
    double Constant(Term term, Position at);

    /// <summary>A flag variable that is true at the ticks of a sample clock.</summary>
    int SampleClock(Term start, Term interval, Position at);

    /// <summary>A delay of <paramref name="source"/> by <paramref name="duration"/>.</summary>
    /// <param name="longest">The longest delay time, where <paramref name="duration"/> varies during the run.</param>
    Term Delay(Term source, Term duration, Term? longest, Position at);

    /// <summary>What a stream variable would bring if it flowed into its connector.</summary>
    /// <returns>That, and what it does bring or take.</returns>
    (Term Incoming, Term Actual) Stream(int variable, Position at) =>
        throw new LanguageException("stream", "Streams are known in models only.", at);

    /// <summary>A discrete variable defined by an equation that may use its own index.</summary>
    int Discrete(string name, Func<int, Term> equation, Position at);

    /// <summary>What stands for a number that was typed with a unit.</summary>
    /// <param name="value">In the coherent unit.</param>
    Term WithUnit(Term value, Units.Unit unit) => value;

    /// <summary>Whether a term can have other values at other times of a run.</summary>
    bool ChangesDuringRun(Term term) => term is not ConstantTerm;

    /// <summary>A variable that always equals a term, so that large terms need not be repeated.</summary>
    Term Auxiliary(Term term, Position at) => term;

    /// <summary>The results of a function written in the language; null when there is none of that name.</summary>
    IReadOnlyList<Value>? CallFunction(
        string name,
        IReadOnlyList<Value> arguments,
        IReadOnlyList<(string Name, Value Value)> named,
        Position at
    ) => null;

    /// <summary>Where what stands at a place of the text comes from; null where nobody asks.</summary>
    Origin? OriginOf(Position at, OriginKind kind) => null;

    /// <summary>The variable that is true while initial values are found.</summary>
    int InitialFlag { get; }
}
