using AnchorBend.Language.Syntax;

namespace AnchorBend.Language.Tests;

public class WorkBudgetTests
{
    static readonly Position Here = new(3, 7);

    [Fact]
    public void What_goes_beyond_a_limit_is_told_with_its_name_and_place()
    {
        using var budget = WorkBudget.Begin();
        WorkBudget.Current.Variables(WorkBudget.MostVariables - 1, "small", Here);
        WorkBudget.Current.Variables(1, "last", Here);
        var error = Assert.Throws<BudgetException>(() => WorkBudget.Current.Variables(1, "wagon.x", Here)).Error;
        Assert.Equal("too-large", error.Code);
        Assert.Equal(Here, error.At);
        Assert.Contains("'wagon.x'", error.Message, StringComparison.Ordinal);
        Assert.NotNull(error.Suggestion);
    }

    [Fact]
    public void Every_kind_has_a_limit()
    {
        using var budget = WorkBudget.Begin();
        var b = WorkBudget.Current;
        Assert.Throws<BudgetException>(() => b.Values(WorkBudget.MostValues + 1, Here));
        Assert.Throws<BudgetException>(() => b.Equations(WorkBudget.MostEquations + 1L, "part", Here));
        Assert.Throws<BudgetException>(() => b.Operations(WorkBudget.MostOperationsOfOne + 1, "part"));
        Assert.Throws<BudgetException>(() =>
        {
            for (var i = 0; i < 10_000_000; i++)
                b.Part("part", Here);
        });
        Assert.Throws<BudgetException>(() =>
        {
            for (var i = 0; i < 10_000_000; i++)
                b.FunctionCall("f", Here);
        });
        Assert.Throws<BudgetException>(() =>
        {
            for (var i = 0; i < 10_000_000; i++)
                b.Operations(WorkBudget.MostOperationsOfOne, "part");
        });
    }

    [Fact]
    public void Without_a_budget_only_what_no_machine_could_hold_is_refused()
    {
        WorkBudget.Current.Values(2 * WorkBudget.MostValues, Here);
        Assert.Throws<BudgetException>(() => WorkBudget.Current.Variables(1L << 40, "x", Here));
    }

    [Fact]
    public void Work_looks_at_its_cancellation_now_and_then()
    {
        using var stop = new CancellationTokenSource();
        using var budget = WorkBudget.Begin(stop.Token);
        WorkBudget.Current.Values(100, Here);
        stop.Cancel();
        Assert.Throws<OperationCanceledException>(() =>
        {
            for (var i = 0; i < 10_000; i++)
                WorkBudget.Current.Values(1, Here);
        });
    }

    [Fact]
    public async Task A_budget_follows_the_work_into_tasks_and_ends_with_its_scope()
    {
        using var stop = new CancellationTokenSource();
        stop.Cancel();
        using (WorkBudget.Begin(stop.Token))
        {
            await Task.Run(() => Assert.Throws<OperationCanceledException>(WorkBudget.Current.Check));
            using (WorkBudget.BeginCount())
                Assert.Throws<OperationCanceledException>(WorkBudget.Current.Check);
        }

        WorkBudget.Current.Check();
    }

    [Fact]
    public void A_fresh_count_begins_at_zero_under_the_same_cancellation()
    {
        using var outer = WorkBudget.Begin();
        WorkBudget.Current.Values(WorkBudget.MostValues, Here);
        using (WorkBudget.BeginCount())
            WorkBudget.Current.Values(WorkBudget.MostValues, Here);
        Assert.Throws<BudgetException>(() => WorkBudget.Current.Values(1, Here));
    }
}
