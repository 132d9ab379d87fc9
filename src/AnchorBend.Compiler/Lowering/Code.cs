using AnchorBend.Language.Terms;

namespace AnchorBend.Compiler.Lowering;

/// <summary>What lowered code computes: a number. Everything is decided here; who emits it only writes it down.</summary>
public abstract record Code;

public sealed record NumberCode(double Value) : Code;

/// <summary>Where values lie.</summary>
public enum Space
{
    Memory,
    States,
    Derivatives,
}

/// <summary>The value at a place.</summary>
public sealed record PlaceCode(Space Space, int Index) : Code;

/// <summary>The time of the evaluation.</summary>
public sealed record TimeCode : Code;

/// <summary>The value of a local that was set before.</summary>
public sealed record LocalCode(int Local) : Code;

/// <summary>Computes a value, keeps it in a local and gives it.</summary>
public sealed record LetCode(int Local, Code Value) : Code;

/// <summary>One operation, as <see cref="TermEvaluator"/> does it.</summary>
public sealed record OperationCode(Operator Kind, Code Left, Code? Right) : Code;

/// <summary>A power with a whole exponent other than −1, 0 and 1, by squaring and multiplying.</summary>
public sealed record PowerCode(Code Operand, int Exponent) : Code;

/// <summary>One of two values; the other is not computed.</summary>
public sealed record ChooseCode(Test Condition, Code Then, Code Otherwise, Origin? Origin = null) : Code;

/// <summary>1 where a test holds, 0 where it does not.</summary>
public sealed record TruthCode(Test Condition) : Code;

/// <summary>The value that the source of a delay had, its own time ago or a varying one.</summary>
public sealed record DelayCode(int Delay, Code? Duration) : Code;

/// <summary>The value of a function that is computed outside.</summary>
public sealed record CallCode(Intrinsic Function, IReadOnlyList<Code> Operands) : Code;

/// <summary>A value read from a table.</summary>
/// <param name="Place">Where its knots lie, and its values behind them.</param>
/// <param name="HeldAbscissa">The place of the abscissa of the last event, where its stretch is held; −1 where it is not.</param>
/// <param name="Counts">Where it is counted how often the abscissa was before the first knot, in each interval and behind the last one;
/// −1 where it is not.</param>
public sealed record TableCode(
    Code Abscissa,
    int Place,
    int Count,
    TableKind Kind,
    bool Slope,
    int HeldAbscissa,
    Origin? Origin = null,
    int Counts = -1
) : Code;

/// <summary>What holds or does not; the second part of one is computed only where the first does not decide.</summary>
public abstract record Test;

/// <summary>A comparison of two numbers; with NaN it does not hold, but for that of being different.</summary>
public sealed record CompareTest(Operator Kind, Code Left, Code Right, Origin? Origin = null) : Test;

public sealed record NotTest(Test Operand) : Test;

/// <param name="Origin">Where the two were put together.</param>
public sealed record AndTest(Test Left, Test Right, Origin? Origin = null) : Test;

/// <param name="Origin">Where the two were put together.</param>
public sealed record OrTest(Test Left, Test Right, Origin? Origin = null) : Test;

/// <summary>A number other than 0.</summary>
public sealed record NonZeroTest(Code Value) : Test;

/// <summary>A relation: decided anew at events and kept in between.</summary>
/// <param name="Place">The place of its truth in memory.</param>
public sealed record HeldTest(int Place, Test Anew, Origin? Origin = null) : Test;

/// <summary>A test that counts how it came out.</summary>
/// <param name="Place">The place in memory for how often it did not hold; behind that, for how often it held.</param>
/// <param name="CountsTurns">Whether it also counts how often it came out otherwise than the time before: behind these stand 1 or 2 where
/// it did not hold or held last, how often it came not to hold any more, and how often it came to hold.</param>
public sealed record CountedTest(int Place, Test Operand, bool CountsTurns = false) : Test;

/// <summary>A test of several conditions that counts how often each way of them came by, and how it came out then.</summary>
/// <param name="Place">The first of the places: twice the number that the conditions note, and 1 more where it held.</param>
public sealed record VectorTest(int Place, Test Operand) : Test;

/// <summary>One of these conditions: it notes its weight where it did not hold, and twice that where it held.</summary>
public sealed record NotedTest(int Weight, Test Operand) : Test;

/// <summary>A step of a routine.</summary>
public abstract record Statement;

/// <summary>Writes a value to a place, and keeps it in a local too unless that is −1.</summary>
public sealed record StoreStatement(PlaceCode To, Code Value, int Local, Origin? Origin = null) : Statement;

public sealed record LocalStatement(int Local, Code Value) : Statement;

/// <summary>Writes a value to the result of the routine.</summary>
public sealed record ResultStatement(int Index, Code Value) : Statement;

/// <summary>Solves an algebraic loop; its unknowns in memory hold the guess, then the solution.</summary>
public sealed record SolveStatement(int Loop) : Statement;

/// <summary>Statements for evaluations of at least a mode.</summary>
public sealed record GuardStatement(int LeastMode, IReadOnlyList<Statement> Body) : Statement;

/// <summary>Runs the one statements or the others.</summary>
public sealed record IfStatement(Test Condition, IReadOnlyList<Statement> Then, IReadOnlyList<Statement> Otherwise, Origin? Origin = null)
    : Statement;

/// <summary>Adds 1 to a place in memory.</summary>
public sealed record CountStatement(int Place) : Statement;

/// <summary>Copies values within memory; the two stretches do not overlap.</summary>
public sealed record CopyStatement(int To, int From, int Count) : Statement;

/// <summary>Statements that are called together.</summary>
/// <param name="Locals">How many locals they use, numbered from 0.</param>
/// <param name="HasResult">Whether they fill a vector of results.</param>
public sealed record Routine(string Name, IReadOnlyList<Statement> Body, int Locals, bool HasResult);
