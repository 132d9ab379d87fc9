using System.Numerics;

namespace AnchorBend.Design.Machines;

/// <summary>
/// An induction machine from its two classical tests: running without load and held fast at a low voltage (IEEE Std 112-2017, section 5.9:
/// equivalent circuit, with leakages of stator and rotor alike as for class A).
/// </summary>
static class InductionSheet
{
    /// <summary>Rounds of dividing the leakage; each leaves less than a tenth of what was open.</summary>
    const int Rounds = 60;

    public static DataSheet Sheet { get; } =
        new(
            "induction",
            [
                new("p", "Pole pairs", null, "Poles"),
                new("R", "Resistance between two terminals", "Ohm", "Resistance"),
                new("f", "Frequency of both tests", "Hz", "Tests"),
                new("U0", "Without load: voltage between two lines", "V", "Without load"),
                new("I0", "Without load: current of a line", "A", "Without load"),
                new("P0", "Without load: power", "W", "Without load"),
                new("Uk", "Held fast: voltage between two lines", "V", "Held fast"),
                new("Ik", "Held fast: current of a line", "A", "Held fast"),
                new("Pk", "Held fast: power", "W", "Held fast"),
            ],
            Compute
        );

    static readonly string[] Tests = ["f", "U0", "I0", "P0", "Uk", "Ik", "Pk"];

    static IReadOnlyList<SheetValue> Compute(SheetFigures f)
    {
        var values = new List<SheetValue>();
        if (f["p"] is { } pairs and > 0)
            values.Add(new SheetValue("pairs", pairs, "", "Pole pairs"));
        if (f["R"] is not { } terminals || !(terminals > 0))
            return values;
        var r = terminals / 2;
        var circuit = Circuit(f, r);
        var doubt = circuit is null && Tests.All(t => f[t] is not null) ? "The two tests fit no machine with this resistance." : null;
        values.Add(new SheetValue("Rs", r, "Ohm", "Half of the resistance between two terminals", doubt));
        if (circuit is not var (rotor, leakage, main))
            return values;
        values.Add(new SheetValue("Rr", rotor, "Ohm", "Test held fast, less the stator's resistance"));
        values.Add(new SheetValue("Ls", leakage, "H", "Half of the leakage of the test held fast"));
        values.Add(new SheetValue("Lr", leakage, "H", "Half of the leakage of the test held fast"));
        values.Add(new SheetValue("Lm", main, "H", "Reactance without load, less the stator's leakage"));
        return values;
    }

    /// <summary>Rotor's resistance, one leakage and the main inductance; null where figures are missing or describe no machine.</summary>
    static (double Rotor, double Leakage, double Main)? Circuit(SheetFigures f, double stator)
    {
        if (
            f["f"] is not { } frequency
            || Impedance(f["U0"], f["I0"], f["P0"]) is not { } idle
            || Impedance(f["Uk"], f["Ik"], f["Pk"]) is not { } held
        )
            return null;
        var x = held.Imaginary / 2;
        for (var round = 0; round < Rounds; round++)
        {
            // What is behind the stator when it is held fast: the rotor beside the main inductance.
            var behind = held - stator - new Complex(0, x);
            var rotor = 1 / (1 / behind - 1 / new Complex(0, idle.Imaginary - x));
            var next = (x + rotor.Imaginary) / 2;
            if (round == Rounds - 1)
                return rotor.Real > 0 && x > 0 && idle.Imaginary > x && Math.Abs(next - x) < 1e-9 * x
                    ? (rotor.Real, x / (2 * Math.PI * frequency), (idle.Imaginary - x) / (2 * Math.PI * frequency))
                    : null;
            x = next;
        }

        return null;
    }

    /// <summary>Impedance of a phase from voltage between lines, current and power of all three; null where these do not fit.</summary>
    static Complex? Impedance(double? voltage, double? current, double? power)
    {
        if (voltage is not { } u || current is not { } i || power is not { } p || !(u > 0 && i > 0 && p >= 0))
            return null;
        var (size, resistance) = (u / (Math.Sqrt(3) * i), p / (3 * i * i));
        return size > resistance ? new Complex(resistance, Math.Sqrt(size * size - resistance * resistance)) : null;
    }
}
