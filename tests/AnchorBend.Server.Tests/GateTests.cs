using AnchorBend.Compiler.Preparation;
using AnchorBend.Language;
using AnchorBend.Modeling.Documents;
using AnchorBend.Simulation;
using AnchorBend.Workbench.Compute;
using AnchorBend.Workbench.Runs;

namespace AnchorBend.Server.Tests;

/// <summary>Turns at the processors, and runs that end by an error of the program.</summary>
public sealed class GateTests
{
    [Fact]
    public async Task Short_work_waits_for_nothing_while_long_work_holds_all_turns()
    {
        var gate = new ComputeGate();
        using var stop = new CancellationTokenSource();
        var long_ = Enumerable
            .Range(0, 3 * Environment.ProcessorCount)
            .Select(_ =>
                Task.Factory.StartNew(
                    () =>
                    {
                        using var lane = gate.Enter(stop.Token);
                        while (!stop.IsCancellationRequested)
                        {
                            Thread.SpinWait(10_000);
                            try
                            {
                                lane.Checkpoint();
                            }
                            catch (OperationCanceledException)
                            {
                                return;
                            }
                        }
                    },
                    TaskCreationOptions.LongRunning
                )
            )
            .ToArray();
        for (var i = 0; i < 20; i++)
            Assert.Equal(i, gate.Run(TimeSpan.FromSeconds(30), default, _ => i));
        stop.Cancel();
        await Task.WhenAll(long_);
    }

    [Fact]
    public async Task Long_work_takes_turns_so_that_all_of_it_gets_on()
    {
        var gate = new ComputeGate();
        var workers = 2 * Environment.ProcessorCount + 1;
        using var done = new CountdownEvent(workers);
        using var stop = new CancellationTokenSource(TimeSpan.FromSeconds(60));
        var tasks = Enumerable
            .Range(0, workers)
            .Select(_ =>
                Task.Factory.StartNew(
                    () =>
                    {
                        using var lane = gate.Enter(stop.Token);
                        var watch = System.Diagnostics.Stopwatch.StartNew();
                        // Longer than work may go on without a turn, and never ending by itself: only who was given a turn counts down.
                        while (watch.ElapsedMilliseconds < 300)
                            lane.Checkpoint();
                        done.Signal();
                        while (!done.IsSet)
                            lane.Checkpoint();
                    },
                    TaskCreationOptions.LongRunning
                )
            )
            .ToArray();
        await Task.WhenAll(tasks).WaitAsync(TimeSpan.FromSeconds(60));
        Assert.True(done.IsSet);
    }

    [Fact]
    public void Work_that_takes_too_long_is_given_up() =>
        Assert.Throws<TooLongException>(() => new ComputeGate().Run(TimeSpan.FromMilliseconds(50), default, token =>
            {
                while (!token.IsCancellationRequested)
                    Thread.SpinWait(1000);
                WorkBudget.Current.Check();
                return 0;
            }));

    [Fact]
    public void Work_that_nobody_wants_any_more_is_no_failure_of_time()
    {
        using var stop = new CancellationTokenSource();
        stop.Cancel();
        Assert.Throws<OperationCanceledException>(() => new ComputeGate().Run(TimeSpan.FromSeconds(30), stop.Token, token =>
            {
                token.ThrowIfCancellationRequested();
                return 0;
            }));
    }

    [Fact]
    public async Task A_run_that_ends_by_an_error_of_the_program_ends_and_says_so()
    {
        var document = new DiagramDefinition
        {
            Name = "M",
            Parts = new()
            {
                ["s"] = new PartNode { Type = "Step", Name = "S" },
                ["l"] = new PartNode { Type = "Lag", Name = "L" },
            },
        }.AsModel();
        var prepared = DocumentPreparation.Prepare(document, Modeling.Catalog.PartCatalog.Standard);
        // No simulator can be made for a run that ends before it begins: nothing in a model leads there.
        using var job = new RunJob("m", 1, prepared, document, new RunOptions { Start = 1, End = 0 });
        Assert.NotNull(job.Execute(new ComputeGate(), _ => { }));
        await job.Finished;
        Assert.Equal("internal", job.Result!.Failure!.Code);
    }
}
