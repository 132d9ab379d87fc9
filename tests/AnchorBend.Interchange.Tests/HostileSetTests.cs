using AnchorBend.Compiler.Preparation;
using AnchorBend.Language;
using AnchorBend.Language.Syntax;
using AnchorBend.Modeling;
using AnchorBend.Modeling.Catalog;
using AnchorBend.Modeling.Documents;
using AnchorBend.Modeling.Flattening;
using AnchorBend.Simulation;

namespace AnchorBend.Interchange.Tests;

/// <summary>Nothing small takes long, falls over or passes without a word where it cannot be meant.</summary>
public class HostileSetTests
{
    /// <summary>Generous for a machine that does other things beside; alone, most take less than one second.</summary>
    static readonly TimeSpan Limit = TimeSpan.FromSeconds(40),
        Wanted = TimeSpan.FromSeconds(20);

    public static TheoryData<int> Texts => [.. Enumerable.Range(0, HostileSet.Texts.Length)];

    public static TheoryData<int> Documents => [.. Enumerable.Range(0, HostileSet.Documents.Length)];

    /// <summary>Prepares and runs for a moment, under the cancellation that a server would use.</summary>
    static void PrepareAndRun(Func<PreparedModel> prepare)
    {
        using var stop = new CancellationTokenSource(Wanted);
        using var budget = WorkBudget.Begin(stop.Token);
        try
        {
            var prepared = prepare();
            if (!prepared.CanRun)
            {
                Assert.Contains(prepared.Findings, f => f.Severity == Severity.Error && f.Message.Length > 0);
                return;
            }

            using var simulator = new Simulator(
                prepared.Compiled!,
                new ParameterSet(prepared.Model),
                new RunOptions
                {
                    End = 1,
                    TimeBudget = TimeSpan.FromSeconds(2),
                    TraceBudget = 32 << 20,
                }
            );
            simulator.Run(stop.Token);
        }
        catch (SimulationException e)
        {
            Assert.NotEmpty(e.Failure.Message);
        }
        catch (OperationCanceledException) when (stop.IsCancellationRequested)
        {
            // It can be stopped, which is what counts.
        }
    }

    static PreparedModel OfText(string text)
    {
        var (classes, errors) = Parser.ParseFile(text);
        if (errors.Count > 0 || classes.Count == 0)
            return PreparedModel.Unreadable([.. errors.Select(e => new Finding(Severity.Error, e.Code, e.Message, ""))]);
        var (model, findings) = Flattener.Flatten(classes[^1], new ClassList(classes, PartCatalog.Standard));
        return PreparedModel.Prepare(model, findings, SourceMap.Empty);
    }

    [Theory]
    [MemberData(nameof(Texts))]
    public async Task A_hostile_text_ends_in_time(int which) =>
        await Task.Run(() => PrepareAndRun(() => OfText(HostileSet.Texts[which]))).WaitAsync(Limit);

    [Theory]
    [MemberData(nameof(Texts))]
    public async Task A_hostile_text_is_reviewed_in_time(int which) =>
        await Task.Run(() =>
            {
                using var stop = new CancellationTokenSource(Wanted);
                using var budget = WorkBudget.Begin(stop.Token);
                try
                {
                    Assert.NotNull(PartReview.Of(HostileSet.Texts[which], PartCatalog.Standard));
                }
                catch (OperationCanceledException) when (stop.IsCancellationRequested)
                {
                    // It can be stopped, which is what counts.
                }
            })
            .WaitAsync(Limit);

    [Theory]
    [MemberData(nameof(Documents))]
    public async Task A_hostile_document_ends_in_time(int which) =>
        await Task.Run(() =>
            {
                ModelDocument document;
                try
                {
                    document = ModelDocument.FromJson(HostileSet.Documents[which]);
                }
                catch (DocumentException e)
                {
                    Assert.NotEmpty(e.Message);
                    // Names of the program's own types and of the parser's states are no help to anybody.
                    Assert.DoesNotContain("AnchorBend", e.Message, StringComparison.Ordinal);
                    Assert.DoesNotContain("System.", e.Message, StringComparison.Ordinal);
                    Assert.True(e.Message.Length < 600);
                    return;
                }

                PrepareAndRun(() => PreparedModel.Prepare(DocumentElaboration.Elaborate(document, PartCatalog.Of(document))));
                Assert.NotEmpty(TextExport.Write(document, PartCatalog.Of(document)));
            })
            .WaitAsync(Limit);

    [Theory]
    [InlineData("Real x[1000000]; equation for i in 1:1000000 loop x[i] = i; end for;", "x")]
    [InlineData("parameter Real a[2000, 2000] = fill(1, 2000, 2000);", "a")]
    public void What_is_too_large_is_told_by_name_and_place(string body, string name)
    {
        var finding = Assert.Single(OfText($"model M\n{body}\nend M;").Findings);
        Assert.Equal("too-large", finding.Code);
        Assert.Equal(2, finding.At.Line);
        Assert.Equal(name, finding.Item);
        Assert.NotNull(finding.Suggestion);
    }

    [Fact]
    public void Putting_a_model_together_stops_when_nobody_waits()
    {
        using var stop = new CancellationTokenSource();
        var looks = 0;
        // The checkpoint is where a server would make it wait; here the client leaves at the third.
        using var budget = WorkBudget.Begin(stop.Token, () =>
        {
            if (++looks == 3)
                stop.Cancel();
        });
        Assert.Throws<OperationCanceledException>(() =>
            OfText("model M Real x[20000]; equation for i in 1:20000 loop der(x[i]) = sin(x[i]); end for; end M;")
        );
    }
}
