using AnchorBend.Modeling.Documents;
using AnchorBend.Workbench.Compute;
using AnchorBend.Workbench.Models;
using AnchorBend.Workbench.Tuning;
using static AnchorBend.Tests.Diagrams;

namespace AnchorBend.Workbench.Tests;

/// <summary>Controllers of one kind beside, and in the place of, another kind in the same loop.</summary>
public sealed class RejectionWorkTests : IDisposable
{
    readonly Bench bench = new();
    readonly ComputeGate gate = new();
    readonly TunedLoops loops = new();
    readonly LoopTuning tuning;

    public RejectionWorkTests() => tuning = new LoopTuning(gate, loops);

    public void Dispose() => bench.RunStore.Dispose();

    /// <summary>A lag of 2/(4 s + 1) under a PI with limits, a feed-forward and a step of its set-point.</summary>
    static ModelDocument Loop() =>
        new DiagramDefinition
        {
            Name = "Basin",
            Parts = new()
            {
                ["r"] = Part("Step", "Wanted", ("height", "1"), ("startTime", "1 s")),
                ["f"] = Part("Constant", "Bias", ("k", "0.1")),
                ["c"] = Part(
                    "PID",
                    "Level controller",
                    ("k", "0.8"),
                    ("Ti", "3 s"),
                    ("limited", "true"),
                    ("uMax", "5"),
                    ("uMin", "-5"),
                    ("feedForward", "true")
                ),
                ["p"] = Part("Lag", "Level", ("k", "2"), ("T", "4 s")),
            },
            Wires = new()
            {
                ["wr"] = Wire("r.y", "c.r"),
                ["wf"] = Wire("f.y", "c.ff"),
                ["wu"] = Wire("c.u", "p.u"),
                ["wy"] = Wire("p.y", "c.y"),
            },
        }.AsModel() with
        {
            Settings = new RunSettings { End = "30 s", Live = false },
        };

    ModelSession Session() => bench.Models.Session(bench.Create(Loop()));

    static DesignsRequest Asked(params DesignAsk[] asks) => new("c", null, null, asks, null, null, null, null);

    static readonly GainsView Rejecting = new("rejection1", null, null, null, null, new RejectionView(0.5, 1, 5));

    [Fact]
    public void A_loop_of_a_PID_can_be_looked_at_with_either_kind()
    {
        var loop = Assert.Single(tuning.Loops(Session(), new LoopsRequest(null, null), default).Loops);
        Assert.Equal(["P", "PI", "PD", "PID"], loop.Forms);
        Assert.Equal(["rejection1", "rejection2"], loop.Others);
    }

    [Fact]
    public void Gains_of_the_other_kind_say_which_part_takes_the_place_and_what_hangs_loose()
    {
        var design = tuning.Designs(Session(), Asked(new DesignAsk("x", Rejecting, null, null, null, null)), default).Designs[0];
        Assert.Equal("DisturbanceRejection", design.Replacement!.Type);
        Assert.Equal(["/definitions/main/wires/wf"], design.Replacement.Loose);
        Assert.Equal("0.5", design.Texts["b0"]);
        Assert.Equal("Order.First", design.Texts["order"]);
        Assert.Equal("5", design.Texts["uMax"]);
        Assert.DoesNotContain("Ti", design.Texts.Keys);
        // With the input gain of the lag, 2/4, the loop follows at its own bandwidth, nearly.
        Assert.InRange(design.Figures!.Overshoot!.Value, -1e-9, 0.05);
    }

    [Fact]
    public void A_limit_that_the_part_has_by_itself_is_kept_too_and_time_at_it_is_told()
    {
        var document = Loop();
        document.Main.Parts["c"].Parameters["uMax"] = "0.6";
        document.Main.Parts["c"].Parameters.Remove("uMin");
        var session = bench.Models.Session(bench.Create(document));
        var design = tuning.Designs(session, Asked(new DesignAsk("x", Rejecting, null, null, null, null)), default).Designs[0];
        // The lower limit of a PID is −1 where nothing is typed.
        Assert.Equal(("0.6", "-1"), (design.Texts["uMax"], design.Texts["uMin"]));
        // To begin with the output would be ωc/b0 = 2.
        Assert.NotEmpty(tuning.TrueRun(session, new TrueRunRequest("c", null, Rejecting, null), default).AtLimit);
        Assert.NotEmpty(tuning.TrueRun(session, new TrueRunRequest("c", null, null, null), default).AtLimit);
    }

    [Fact]
    public void The_run_with_the_other_kind_is_that_of_a_model_that_has_it()
    {
        var session = Session();
        var tried = tuning.TrueRun(session, new TrueRunRequest("c", null, Rejecting, null), default);
        Assert.Null(tried.Failure);
        // One step that nothing disturbs: the error is 1 at first and has gone to nothing at the end.
        Assert.Equal(1, tried.Error.Values.Max(), 1e-6);
        Assert.Equal(0, tried.Error.Values[^1], 1e-3);
        var (document, _) = session.Present();
        Assert.Equal("PID", document.Main.Parts["c"].Type);
    }

    [Fact]
    public void The_map_of_the_other_kind_has_the_input_gain_that_the_plant_shows()
    {
        var request = new MapRequest("c", null, null, "rejection1", 6, null, null, new WishesView(1.4, null, null, null, null));
        var map = tuning.Map(Session(), request, default);
        Assert.Equal("rejection1", map.Form);
        Assert.InRange(map.InputGain!.Value, 0.3, 0.5);
        var best = map.Advice!.Best!;
        Assert.InRange(best.Sensitivity, 1, 1.4 * 1.002);
        var place = new PlaceAsk("rejection1", 6, best.Bandwidth, best.Sensitivity);
        var design = tuning.Designs(Session(), Asked(new DesignAsk("x", null, place, null, null, null)), default).Designs[0];
        Assert.Equal(6, design.Gains!.Rejection!.Ratio);
        Assert.Equal(best.Sensitivity, design.Figures!.Sensitivity!.Value, 0.005 * best.Sensitivity);
        Assert.Equal(best.Bandwidth, design.Figures.Bandwidth!.Value, 0.005 * best.Bandwidth);
    }

    [Fact]
    public void The_best_gains_can_weigh_the_set_point_and_the_weight_is_written()
    {
        var best = new BestAsk("PI", "load", 1.6, null, null, null, null, true);
        var designs = tuning
            .Designs(
                Session(),
                Asked(
                    new DesignAsk("plain", null, null, null, best with { Weighted = null }, null),
                    new DesignAsk("weighed", null, null, null, best, null),
                    new DesignAsk("none", null, null, null, best with { Form = "rejection1" }, null)
                ),
                default
            )
            .Designs;
        Assert.Equal(designs[0].Gains!.K, designs[1].Gains!.K);
        Assert.NotEqual(1, designs[1].Gains!.B);
        Assert.Equal(designs[1].Gains!.B!.Value.ToString(System.Globalization.CultureInfo.InvariantCulture), designs[1].Texts["b"]);
        Assert.DoesNotContain("b", designs[0].Texts.Keys);
        Assert.True(designs[1].Figures!.SetPointError < designs[0].Figures!.SetPointError);
        Assert.Equal(designs[0].Figures!.Sensitivity, designs[1].Figures!.Sensitivity);
        Assert.Contains("no weight", designs[2].Problem, StringComparison.Ordinal);
    }

    [Fact]
    public void An_element_stands_between_the_controller_and_all_that_it_drove()
    {
        var session = Session();
        var answer = new LoopElements(gate, loops).Of(session, new LoopElementRequest("c", null, null, null, "lead", 2, 40), default);
        Assert.Equal(answer.Before.Bandwidth, tuning.Loops(session, new LoopsRequest(null, null), default).Loops[0].Figures!.Bandwidth);
        session.Edit(0, answer.Action.Label, answer.Action.Operations);
        var main = session.Present().Document.Main;
        var (id, lead) = main.Parts.Single(p => p.Value.Type == "LeadLag");
        Assert.Equal(new PortReference(id, "y"), main.Wires["wu"].From);
        Assert.Contains(main.Wires.Values, w => w.From == new PortReference("c", "u") && w.To == new PortReference(id, "u"));
        // What was foretold is what the loop has now, but for the digits that are written.
        var now = tuning.Loops(session, new LoopsRequest(null, null), default).Loops[0].Figures!;
        Assert.Equal(answer.After.Bandwidth!.Value, now.Bandwidth!.Value, 1e-4 * now.Bandwidth.Value);
        Assert.Equal(answer.After.Sensitivity!.Value, now.Sensitivity!.Value, 1e-4);
        Assert.NotEqual(answer.Before.PhaseMargin!.Value, now.PhaseMargin!.Value, 1.0);
        Assert.Equal("Lead", lead.Name);
    }

    [Theory]
    [InlineData(0, 1, 5)]
    [InlineData(1, 0, 5)]
    [InlineData(1, 1, 0.5)]
    public void Gains_out_of_range_are_refused(double inputGain, double bandwidth, double ratio)
    {
        var gains = Rejecting with { Rejection = new RejectionView(inputGain, bandwidth, ratio) };
        var design = tuning.Designs(Session(), Asked(new DesignAsk("x", gains, null, null, null, null)), default).Designs[0];
        Assert.Null(design.Gains);
        Assert.Contains("out of range", design.Problem, StringComparison.Ordinal);
    }

    [Fact]
    public void A_step_on_the_running_loop_shows_the_order_and_the_input_gain()
    {
        var orders = new PlantOrders(gate, loops);
        // After the step of the set-point the loop rests.
        var answer = orders.Of(Session(), new PlantOrderRequest("c", 25, null, 0.05, 40, null), default);
        Assert.Equal(1, answer.Order);
        // 2/(4 s + 1) at its frequency ω is 2/√(16 ω² + 1), times ω;
        // the line through its neighbours, up to ln 2.2 away, leaves out half the curvature of 1/2 times a third of that squared.
        var w = answer.Frequency;
        Assert.Equal(2 / Math.Sqrt(16 * w * w + 1) * w, answer.InputGain, 0.05 * answer.InputGain);
    }
}
