using System.Globalization;
using AnchorBend.Language.Syntax;

namespace AnchorBend.Language;

/// <summary>The model asks for more than is made of any: what, and where. Nothing goes on after it.</summary>
public sealed class BudgetException(LanguageError error) : Exception(error.ToString())
{
    public LanguageError Error { get; } = error;
}

/// <summary>
/// What making a model may cost, and whether it is still wanted. A text of some hundred characters can ask for any number of equations, so
/// everything that grows with more than the text's length is counted here: values bound, variables, parts, equations, calls, operations of
/// generated code. The budget of the work at hand is <see cref="Current"/>; it follows the flow of control into tasks.
/// </summary>
public sealed class WorkBudget
{
    /// <summary>Values that expressions, loops and calls may make: some twenty for each variable of the largest models.</summary>
    public const long MostValues = 5_000_000;

    public const int MostVariables = 300_000;

    public const int MostParts = 100_000;

    public const int MostEquations = 300_000;

    public const int MostCalls = 100_000;

    /// <summary>Operations of generated code: of a whole model, and of one equation.</summary>
    public const long MostOperations = 20_000_000,
        MostOperationsOfOne = 200_000;

    /// <summary>Units of work between two looks at the clock.</summary>
    const int LookEvery = 2048;

    static readonly AsyncLocal<WorkBudget?> ambient = new();

    /// <summary>The budget of work that nobody bounds: only counted.</summary>
    static readonly WorkBudget None = new(default, null) { isCounted = false };

    readonly CancellationToken cancellation;
    readonly Action? checkpoint;
    bool isCounted = true;
    long values,
        operations,
        sinceLook;
    int variables,
        parts,
        equations,
        calls;

    WorkBudget(CancellationToken cancellation, Action? checkpoint) => (this.cancellation, this.checkpoint) = (cancellation, checkpoint);

    /// <summary>The budget of the work at hand; one without limits where none has begun.</summary>
    public static WorkBudget Current => ambient.Value ?? None;

    /// <summary>Begins a budget for what is done until the result is disposed of.</summary>
    /// <param name="checkpoint">Called now and then: may wait for its turn.</param>
    public static IDisposable Begin(CancellationToken cancellation = default, Action? checkpoint = null)
    {
        var scope = new Scope(ambient.Value);
        ambient.Value = new WorkBudget(cancellation, checkpoint);
        return scope;
    }

    /// <summary>A fresh count under the cancellation at hand, for a piece of work that stands by itself.</summary>
    public static IDisposable BeginCount()
    {
        var outer = Current;
        return Begin(outer.cancellation, outer.checkpoint);
    }

    sealed class Scope(WorkBudget? outer) : IDisposable
    {
        public void Dispose() => ambient.Value = outer;
    }

    /// <summary>Whether the work is still wanted.</summary>
    /// <exception cref="OperationCanceledException">It is not.</exception>
    public void Check()
    {
        cancellation.ThrowIfCancellationRequested();
        checkpoint?.Invoke();
    }

    /// <exception cref="BudgetException">Too many.</exception>
    public void Values(long count, Position at)
    {
        if ((values += count) > MostValues && isCounted)
            throw TooMuch(
                "values are made while it is put together",
                MostValues,
                at,
                "Look for loops in loops, large arrays or long sums."
            );
        Work(count);
    }

    public void Variables(long count, string name, Position at)
    {
        if (count > MostVariables || (variables += (int)count) > MostVariables && isCounted)
            throw TooMuch(
                $"variables are declared, at '{name}' at the latest",
                MostVariables,
                at,
                "Make arrays smaller, or use fewer parts."
            );
        Work(count);
    }

    public void Part(string path, Position at)
    {
        if (++parts > MostParts && isCounted)
            throw TooMuch(
                $"parts are in it, at '{path}' at the latest",
                MostParts,
                at,
                "Parts that hold parts multiply; use fewer of them."
            );
        Work(20);
    }

    public void Equations(long count, string owner, Position at)
    {
        if (count > MostEquations || (equations += (int)count) > MostEquations && isCounted)
            throw TooMuch(
                $"equations are in it{Where(owner, ", at", " at the latest")}",
                MostEquations,
                at,
                "Make loops and arrays smaller."
            );
        Work(count);
    }

    public void FunctionCall(string name, Position at)
    {
        if (++calls > MostCalls && isCounted)
            throw TooMuch(
                $"calls of functions are expanded, at '{name}' at the latest",
                MostCalls,
                at,
                "A function that calls another one twice, which calls a third one twice, grows without bounds."
            );
        Work(5);
    }

    /// <summary>Code of one equation or derivative.</summary>
    public void Operations(long count, string owner)
    {
        if (!isCounted)
            return;
        if (count > MostOperationsOfOne)
            throw TooMuch(
                $"operations are in one equation{Where(owner, " of", "")}",
                MostOperationsOfOne,
                default,
                "Give parts of it variables of their own."
            );
        if ((operations += count) > MostOperations)
            throw TooMuch(
                $"operations would be in its code{Where(owner, ", most lately for", "")}",
                MostOperations,
                default,
                "A loop through many equations that all depend on each other has a derivative for each pair."
            );
        Work(count);
    }

    static string Where(string owner, string before, string after) => owner.Length > 0 ? $"{before} '{owner}'{after}" : "";

    void Work(long count)
    {
        if ((sinceLook += count) < LookEvery)
            return;
        sinceLook = 0;
        Check();
    }

    static BudgetException TooMuch(string what, long most, Position at, string advice) =>
        new(
            new LanguageError(
                "too-large",
                $"The model is too large: more than {most.ToString("N0", CultureInfo.InvariantCulture)} {what}.",
                at,
                advice
            )
        );
}
