namespace AnchorBend.Workbench.Lessons;

/// <summary>A step of a lesson.</summary>
/// <param name="Text">What to do, where, and what is to be seen then.</param>
/// <param name="IsDone">Whether the model shows that it was done.</param>
public sealed record LessonStep(string Key, string Title, int Minutes, string Text, Func<LessonFacts, bool> IsDone);

/// <summary>Something that one learns in the bench itself, on a model of one's own.</summary>
/// <param name="Model">What the model is called that it begins with.</param>
/// <param name="End">How long its runs take, as typed.</param>
public sealed record Lesson(string Key, string Title, string About, string Model, string End, IReadOnlyList<LessonStep> Steps)
{
    static LessonStep Step(string key, string title, int minutes, string text, Func<LessonFacts, bool> isDone) =>
        new(key, title, minutes, text, isDone);

    /// <summary>Half a kelvin around the wanted 40 °C.</summary>
    const double Wanted = 313.15,
        Near = 0.5;

    /// <summary>Shares of the time that a lamp which burns by night is on.</summary>
    const double LeastNight = 0.4,
        MostNight = 0.6;

    public static readonly IReadOnlyList<Lesson> All =
    [
        new(
            "first-loop",
            "Your first loop in ten steps",
            "A tank is filled by a valve, and a controller keeps its level though it leaks.",
            "My first tank",
            "60 s",
            [
                Step(
                    "tank",
                    "Place a tank",
                    1,
                    "Click on the diagram where it shall stand, type integrator and press Enter. The level of a tank is what "
                        + "has flowed in, added up over time: an integrator.",
                    f => f.Has("Integrator")
                ),
                Step(
                    "valve",
                    "Fill it by a valve",
                    2,
                    "Place a Lag to the left of it: a valve that follows its command within its time constant. Drag from its "
                        + "output on the right to "
                        + "the input of the tank.",
                    f => f.Leads("Lag", "Integrator")
                ),
                Step(
                    "open",
                    "Open the valve",
                    1,
                    "Place a Step further left, and wire it to the valve. After one second it asks for an opening of one.",
                    f => f.Leads("Step", "Lag")
                ),
                Step(
                    "see",
                    "Run it, see the level",
                    1,
                    "Select the tank and press Plot in the inspector at the right. The model runs by itself after each "
                        + "change: the tank fills for ever, as nothing stops it.",
                    f => f.Signals("Integrator").Any(s => s.Probe is not null)
                ),
                Step(
                    "loop",
                    "Close the loop",
                    3,
                    "Place a PID controller between step and valve: delete the wire between them, wire the step to its input r "
                        + "(wanted), the tank to "
                        + "its input y (measured), and its output to the valve.",
                    f => f.Leads("Step", "PID", "r") && f.Leads("Integrator", "PID", "y") && f.Leads("PID", "Lag")
                ),
                Step(
                    "name",
                    "Name the level",
                    1,
                    "Select the wire that leaves the tank and type a name for it in the inspector: level. The strips below and "
                        + "everything that speaks of it say so then.",
                    f => f.Signals("Integrator").Any(s => s.Name is { Length: > 0 })
                ),
                Step(
                    "tune",
                    "Tune its two gains",
                    3,
                    "With the controller selected, press Tune this loop. Choose a place on the map, look at the step below it, "
                        + "and press Apply. Both "
                        + "gains are in the model then.",
                    f => f.Set("PID", "k", "Ti")
                ),
                Step(
                    "disturb",
                    "Disturb it",
                    3,
                    "The tank leaks: place a Sum between valve and tank, wire the valve to its plus, and a second Step (height "
                        + "0.2, at 30 s) to its "
                        + "minus. The controller brings the level back.",
                    f => f.Leads("Sum", "Integrator") && f.Arriving("Sum") >= 2 && f.Parts("Step").Count() >= 2
                ),
                Step(
                    "require",
                    "Set a requirement",
                    2,
                    "Go to Verify and add a requirement on the level: an overshoot of at most 15 %, say. It is judged with "
                        + "every run from now on.",
                    f => f.HasRequirement
                ),
                Step(
                    "keep",
                    "Keep a checkpoint",
                    1,
                    "Open the history by a click on what stands beside the model's name, and keep the present revision under a "
                        + "name. You can always "
                        + "come back to it.",
                    f => f.HasCheckpoint
                ),
            ]
        ),
        new(
            "warm-body",
            "Join a physical network",
            "A body is heated and loses its heat to the room; you find the power for the temperature you want.",
            "My warm body",
            "1 h",
            [
                Step(
                    "body",
                    "Place the body",
                    1,
                    "Press / and place a Heat capacity. Give it 2 kJ/K in the inspector: units are typed behind the number.",
                    f => f.Set("HeatCapacity", "C")
                ),
                Step(
                    "heat",
                    "Heat it",
                    2,
                    "Place a heat flow from a signal (type: heat), and drag from its thermal port to that of the body. Wires "
                        + "of physical parts have no "
                        + "direction: they join.",
                    f => f.Joined("SignalHeat", "HeatCapacity")
                ),
                Step("power", "Say how much", 1, "Wire a Constant to its input; it is the power in watts.", f =>
                    f.Leads("Constant", "SignalHeat")
                ),
                Step(
                    "room",
                    "Let it cool",
                    3,
                    "Place an Ambient at 10 degC and a Conduction of 5 W/K, and join: body, conduction, ambient. What flows "
                        + "out is computed, not "
                        + "drawn.",
                    f => f.Joined("Conduction", "HeatCapacity") && f.Joined("Conduction", "FixedTemperature")
                ),
                Step("see", "See the temperature", 2, "Join a Temperature sensor to the body, plot its output and run.", f =>
                    f.Joined("TemperatureSensor", "HeatCapacity") && f.Signals("TemperatureSensor").Any(s => s.Probe is not null)
                ),
                Step(
                    "task",
                    "Task: end at 40 °C",
                    4,
                    "Choose the power so that the body ends within half a kelvin of 40 °C. The balance at rest tells how: what "
                        + "goes in goes out by the "
                        + "conduction.",
                    f => f.Parts("TemperatureSensor").Any(p => f.Course(p.Key, "y") is ({ } _, { } y) && Math.Abs(y[^1] - Wanted) <= Near)
                ),
            ]
        ),
        new(
            "night-light",
            "Your first state chart",
            "A lamp that burns by night: two states, a condition for each way, and a run that shows them.",
            "My night light",
            "60 s",
            [
                Step(
                    "sun",
                    "Let the sun rise and set",
                    1,
                    "Place a Sine. Its value is the light: above zero is day. Give it a frequency of 0.05 Hz, so that a day takes 20 s.",
                    f => f.Set("Sine", "f")
                ),
                Step(
                    "chart",
                    "Make a chart",
                    2,
                    "Click on the diagram, type state chart and press Enter; a double click opens it. Give it an input light "
                        + "and an output lamp, which is a Boolean, in the table of names.",
                    f =>
                        f.Charts.Any(c =>
                            c.Chart.Names.Values.Any(n => n.Kind == Modeling.Written.NameKind.Input)
                            && c.Chart.Names.Values.Any(n => n is { Kind: Modeling.Written.NameKind.Output, Type: "Boolean" })
                        )
                ),
                Step(
                    "states",
                    "Draw day and night",
                    2,
                    "Press / or double-click on open ground for each of two states. In the inspector write lamp := false on "
                        + "entry to the one and lamp := true on entry to the other.",
                    f => f.Charts.Any(c => c.Chart.States.Values.Count(s => s.Entry is { Length: > 0 }) >= 2)
                ),
                Step(
                    "ways",
                    "Draw the ways between them",
                    2,
                    "A transition each way, with a condition: light < 0 into the night, light > 0 into the day.",
                    f => f.Charts.Any(c => c.Chart.Transitions.Values.Count(t => t.Guard is { Length: > 0 }) >= 2)
                ),
                Step("wire", "Show it the light", 1, "Back on the diagram, wire the sine to the chart and plot lamp.", f =>
                    f.Charts.Any(c => f.IsWiredInto(c.Part))
                ),
                Step(
                    "task",
                    "Task: on by night",
                    2,
                    "Run it. The lamp has to be on for half of the time, and to change with each dusk and dawn.",
                    f => f.Charts.Any(c => c.Chart.Names.Values.Any(n => BurnsByNight(f.Course(c.Part, n.Name))))
                ),
            ]
        ),
    ];

    static bool BurnsByNight((double[] Times, double[] Values)? course)
    {
        if (course is not ({ Length: > 1 } times, { } values) || values.Any(v => v is not (0 or 1)))
            return false;
        double on = 0;
        var changes = 0;
        for (var i = 1; i < times.Length; i++)
        {
            on += (times[i] - times[i - 1]) * values[i - 1];
            if (values[i] != values[i - 1])
                changes++;
        }

        return on / (times[^1] - times[0]) is > LeastNight and < MostNight && changes >= 4;
    }
}
