namespace AnchorBend.Delivery.Tests;

/// <summary>Why tests that need a program of the machine are skipped; null where it is there.</summary>
static class Needs
{
    public static string? Compiler => NativeCode.HasCompiler ? null : "There is no C compiler on this machine: apt-get install gcc.";

    public static string? Checker => NativeCode.HasChecker ? null : "There is no static checker on this machine: apt-get install cppcheck.";
}

sealed class CompiledFactAttribute : FactAttribute
{
    public CompiledFactAttribute() => Skip = Needs.Compiler;
}

sealed class CompiledTheoryAttribute : TheoryAttribute
{
    public CompiledTheoryAttribute() => Skip = Needs.Compiler;
}

sealed class CheckedTheoryAttribute : TheoryAttribute
{
    public CheckedTheoryAttribute() => Skip = Needs.Checker;
}

sealed class BoardFactAttribute : FactAttribute
{
    public BoardFactAttribute() =>
        Skip = Targets.Board.IsThere
            ? null
            : $"There is no simulated board on this machine: apt-get install {string.Join(' ', Targets.Board.Packages)}.";
}
