namespace AnchorBend.Design.Machines;

/// <summary>
/// Data sheets of the machines of the catalog. Makers give what can be measured between two terminals; parts take what belongs to one
/// phase. Relations are those of ideal machines (D. C. Hanselman, "Brushless Permanent Magnet Motor Design", 2003, chapters 2 and 4;
/// N. Mohan, "Electric Drives", 2003, chapter 7).
/// </summary>
public static class MachineSheets
{
    const double ThousandRpm = 1000 * 2 * Math.PI / 60;

    static readonly double RootTwo = Math.Sqrt(2),
        RootThree = Math.Sqrt(3);

    public static IReadOnlyDictionary<string, DataSheet> All { get; } =
        ((DataSheet[])[DirectCurrent, Brushless, Synchronous, InductionSheet.Sheet]).ToDictionary(s => s.Kind);

    static IReadOnlyList<SheetValue> Given(params ReadOnlySpan<SheetChoice> choices)
    {
        var values = new List<SheetValue>();
        foreach (var choice in choices)
            if (choice.Value is { } value)
                values.Add(value);
        return values;
    }

    static DataSheet DirectCurrent =>
        new(
            "directCurrent",
            [
                new("U", "Rated voltage", "V", "Voltage and speed"),
                new("n0", "Speed without load", "rpm", "Voltage and speed"),
                new("I0", "Current without load", "A", "Voltage and speed"),
                new("kT", "Torque constant", "N.m/A", "Constant"),
                new("kn", "Speed constant", "rpm/V", "Constant"),
                new("R", "Resistance between the terminals", "Ohm", "Resistance"),
                new("Is", "Current at standstill", "A", "Resistance"),
                new("L", "Inductance between the terminals", "H", "Inductance"),
                new("Te", "Electrical time constant", "s", "Inductance"),
            ],
            f =>
            {
                var r = new SheetChoice("R", "Ohm")
                    .Or(f["R"], "Resistance between the terminals")
                    .Or(f["U"] / f["Is"], "Rated voltage over the current at standstill");
                return Given(
                    r,
                    new SheetChoice("k", "N.m/A")
                        .Or(f["kT"], "Torque constant")
                        .Or(1 / f["kn"], "One over the speed constant")
                        .Or(
                            (f["U"] - r.Value?.Value * (f["I0"] ?? 0)) / f["n0"],
                            "Voltage behind the resistance over the speed without load"
                        ),
                    new SheetChoice("L", "H")
                        .Or(f["L"], "Inductance between the terminals")
                        .Or(f["Te"] * r.Value?.Value, "Electrical time constant times the resistance")
                );
            }
        );

    /// <summary>Two phases carry the current of a trapezoidal machine, so that what is between terminals is twice what is in one.</summary>
    static DataSheet Brushless =>
        new(
            "brushless",
            [
                new("p", "Pole pairs", null, "Poles"),
                new("R", "Resistance between two terminals", "Ohm", "Resistance"),
                new("L", "Inductance between two terminals", "H", "Inductance"),
                new("kT", "Torque constant, torque a current of the link", "N.m/A", "Constant"),
                new("E", "Voltage between two terminals at 1000 rpm, flat top", "V", "Constant"),
                new("kn", "Speed constant", "rpm/V", "Constant"),
                new("I0", "Current without load", "A", "Losses"),
            ],
            f =>
            {
                var k = new SheetChoice("k", "V.s/rad")
                    .Or(f["kT"] / 2, "Half of the torque constant")
                    .Or(f["E"] / (2 * ThousandRpm), "Half of the voltage between two terminals over its speed")
                    .Or(1 / (2 * f["kn"]), "Half of one over the speed constant");
                return Given(
                    new SheetChoice("pairs", "").Or(f["p"], "Pole pairs"),
                    new SheetChoice("R", "Ohm").Or(f["R"] / 2, "Half of the resistance between two terminals"),
                    new SheetChoice("L", "H").Or(f["L"] / 2, "Half of the inductance between two terminals"),
                    k,
                    new SheetChoice("dry", "N.m").Or(2 * k.Value?.Value * f["I0"], "Torque of the current without load")
                );
            }
        );

    static DataSheet Synchronous =>
        new(
            "synchronous",
            [
                new("p", "Pole pairs", null, "Poles"),
                new("R", "Resistance between two terminals", "Ohm", "Resistance"),
                new("Lmin", "Least inductance between two terminals over a turn", "H", "Inductance"),
                new("Lmax", "Greatest inductance between two terminals over a turn", "H", "Inductance"),
                new("kT", "Torque constant, torque an ampere of effective value", "N.m/A", "Flux"),
                new("kP", "Torque constant, torque an ampere of amplitude", "N.m/A", "Flux"),
                new("E", "Effective voltage between two terminals at 1000 rpm", "V", "Flux"),
            ],
            f =>
            {
                // With magnets on or in the rotor the iron is hindered most along them.
                var (least, greatest) = (f["Lmin"] ?? f["Lmax"], f["Lmax"] ?? f["Lmin"]);
                var pairs = f["p"];
                return Given(
                    new SheetChoice("pairs", "").Or(pairs, "Pole pairs"),
                    new SheetChoice("R", "Ohm").Or(f["R"] / 2, "Half of the resistance between two terminals"),
                    new SheetChoice("Ld", "H").Or(least / 2, "Half of the least inductance between two terminals"),
                    new SheetChoice("Lq", "H").Or(greatest / 2, "Half of the greatest inductance between two terminals"),
                    new SheetChoice("flux", "Wb")
                        .Or(f["kT"] / (1.5 * pairs * RootTwo), "Torque constant of effective values over pole pairs, 3/2 and √2")
                        .Or(f["kP"] / (1.5 * pairs), "Torque constant of amplitudes over pole pairs and 3/2")
                        .Or(
                            f["E"] * RootTwo / RootThree / (pairs * ThousandRpm),
                            "Amplitude of a phase's voltage over the electrical speed"
                        )
                );
            }
        );
}
