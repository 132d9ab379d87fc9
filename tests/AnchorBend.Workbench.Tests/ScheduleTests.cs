using AnchorBend.Modeling.Tables;
using AnchorBend.Modeling.Written;
using static AnchorBend.Workbench.Tests.ChartParts;
using static AnchorBend.Workbench.Tests.TableParts;

namespace AnchorBend.Workbench.Tests;

/// <summary>Schedules: phases by time and condition, commands at once and by degrees.</summary>
public class ScheduleTests
{
    static readonly NameNode Valve = Name("valve", NameKind.Output, "Real", "0.25");
    static readonly NameNode Fuel = Name("fuel", NameKind.Output, "Boolean");
    static readonly NameNode Speed = Name("speed", NameKind.Input, "Real");

    [Fact]
    public void Phases_follow_each_other_by_their_times_and_commands_go_from_where_they_are()
    {
        var ran = new Ran(
            Fed(
                Schedule(
                    [
                        Phase("Wait", "1 s"),
                        Phase("Open", "2 s", null, ("valve", To("1", CommandWay.Ramp)), ("fuel", To("true"))),
                        Phase("Settle", "500 ms"),
                        Phase("Close", "1 s", null, ("valve", To("0", CommandWay.Smooth)), ("fuel", To("false"))),
                        Phase("Done"),
                    ],
                    Valve,
                    Fuel
                )
            ),
            6
        );
        Assert.Equal((0.25, 0, 1), (ran.At(0.5, "valve"), ran.At(0.5, "fuel"), ran.At(0.5, "in Wait")));
        // A straight line from 0.25 at 1 s to 1 at 3 s.
        Assert.Equal(0.25 + 0.75 / 2 * 0.5, ran.At(1.5, "valve"), 1e-12);
        Assert.Equal((1, 1), (ran.At(1.5, "fuel"), ran.At(1.5, "in Open")));
        Assert.Equal((1, 1), (ran.At(3.25, "valve"), ran.At(3.25, "in Settle")));
        // x³ (10 − 15 x + 6 x²) at a quarter of the way is 53/512.
        Assert.Equal(1 - 53.0 / 512, ran.At(3.75, "valve"), 1e-6);
        Assert.Equal((0, 0, 1), (ran.At(5, "valve"), ran.At(5, "fuel"), ran.At(5, "in Done")));
        Assert.Equal(0.5, ran.At(5, "elapsed"), 1e-9);
    }

    [Fact]
    public void A_condition_ends_a_phase_at_its_very_instant_and_the_next_goes_on_from_there()
    {
        var ran = new Ran(
            Fed(
                Schedule(
                    [
                        Phase("Run up", "10 s", "speed > 2", ("valve", To("1.25", CommandWay.Ramp))),
                        Phase("Back", "2 s", null, ("valve", To("0", CommandWay.Ramp))),
                        Phase("Done"),
                    ],
                    Valve,
                    Speed
                ),
                // Reaches 2 at 4 s.
                ("speed", "Real", "0.5 * time")
            ),
            8
        );
        Assert.Equal(0.25 + 0.1 * 3, ran.At(3, "valve"), 1e-9);
        Assert.Equal(1, ran.At(4.02, "in Back"));
        // 0.65 was reached; half of the way back.
        Assert.Equal(0.65 / 2, ran.At(5, "valve"), 1e-6);
        Assert.Equal(0, ran.At(7, "valve"), 1e-12);
    }

    [Fact]
    public void Conditions_that_hold_already_are_passed_at_once_from_the_start_on()
    {
        var ran = new Ran(
            Fed(
                Schedule(
                    [
                        Phase("A", null, "speed > 0", ("valve", To("1"))),
                        Phase("B", null, "speed > 0", ("valve", To("2"))),
                        Phase("C", null, "elapsed() > 1", ("valve", To("3"))),
                        Phase("D", null, null, ("valve", To("speed", CommandWay.Step))),
                    ],
                    Valve,
                    Speed
                ),
                ("speed", "Real", "1 + time")
            ),
            3
        );
        Assert.Equal((3, 1), (ran.At(0.5, "valve"), ran.At(0.5, "in C")));
        Assert.Equal(1, ran.At(1.02, "in D"));
        // A step may follow something that goes on changing.
        Assert.Equal(3.5, ran.At(2.5, "valve"), 1e-9);
    }

    [Fact]
    public void A_schedule_that_repeats_begins_again()
    {
        var schedule = Schedule([Phase("Up", "1 s", null, ("valve", To("1"))), Phase("Down", "1 s", null, ("valve", To("0")))], Valve) with
        {
            Repeats = true,
        };
        var ran = new Ran(Fed(schedule), 6);
        Assert.Equal([1, 0, 1, 0, 1, 0], Enumerable.Range(0, 6).Select(k => ran.At(k + 0.5, "valve")));
    }

    [Fact]
    public void A_command_may_take_less_than_its_phase()
    {
        var ran = new Ran(
            Fed(Schedule([Phase("Open", "4 s", null, ("valve", To("1.25", CommandWay.Ramp, "2 s"))), Phase("Done")], Valve)),
            4
        );
        Assert.Equal(0.75, ran.At(1, "valve"), 1e-9);
        Assert.Equal(1.25, ran.At(3, "valve"), 1e-12);
    }

    static IEnumerable<string> Told(ScheduleDefinition schedule) => schedule.Review().Select(f => f.Message);

    [Fact]
    public void What_is_wrong_with_it_is_told_where_it_is()
    {
        var schedule = Schedule(
            [Phase("Wait"), Phase("Open", "1 s", null, ("valve", To("1", CommandWay.Ramp, "2 s"))), Phase("Done")],
            Valve,
            Fuel,
            Speed
        );
        Assert.Equal(
            [
                "Nothing ends the phase Wait: Open is never reached.",
                "valve takes 2 s in the phase Open, which ends after 1 s: it stops on the way.",
                "No phase gives 'fuel' a value.",
                "Nothing uses 'speed'.",
            ],
            Told(schedule)
        );
    }

    [Theory]
    [InlineData("valve", "Phase Go, valve: it takes a time to get there.")]
    [InlineData("fuel", "Phase Go, fuel: only a real number goes by degrees.")]
    public void What_cannot_go_by_degrees_is_told(string command, string message)
    {
        var document = Fed(Schedule([Phase("Go", null, null, (command, To("1", CommandWay.Ramp)))], Valve, Fuel));
        var prepared = Compiler.Preparation.DocumentPreparation.Prepare(document, Modeling.Catalog.PartCatalog.Of(document));
        Assert.Contains(prepared.Findings, f => f.Message == $"Schedule under test: {message}");
    }
}
