using AnchorBend.Language.Binding;
using AnchorBend.Language.Terms;
using AnchorBend.Simulation;

namespace AnchorBend.Delivery.Targets;

/// <summary>A change from one unit to another while a target ran.</summary>
/// <param name="Time">s.</param>
/// <param name="From">Number of the unit that had the plant before.</param>
/// <param name="Output">The one that moved most.</param>
/// <param name="Before">Its last value by the unit before.</param>
/// <param name="After">Its first value by the other.</param>
public sealed record HandOver(double Time, int From, int To, string Output, double Before, double After);

/// <summary>Where code runs.</summary>
public enum TargetKind
{
    /// <summary>A process of this machine; steps are timed.</summary>
    Process,

    /// <summary>A simulated board; instructions are counted.</summary>
    Board,
}

/// <summary>
/// Code of one or more units with the same inputs and outputs in a process of its own, one of which has the plant. Inputs of the target:
/// the number of that unit, from 1, then those of the units, then the values of parameters that can be changed.
/// </summary>
public sealed class Target : IOutsideSteps, IDisposable
{
    static readonly TimeSpan Patience = TimeSpan.FromSeconds(20);

    readonly string folder;
    readonly OutsideProcess process;
    readonly IReadOnlyList<CodeUnit> units;
    readonly double step;
    readonly IReadOnlyList<BoardSize> sizes;
    readonly int[][] tunable;
    readonly double[] given;
    readonly double[][] rows;
    readonly double[] made;
    readonly double[] answer;
    readonly Lock own = new();
    readonly StepCosts[] costs;
    readonly List<HandOver> handOvers = [];
    readonly TakeOver history;
    long last = -1,
        steps;
    int stack;
    int active = -1;
    bool isNew = true;

    Target(string folder, OutsideProcess process, IReadOnlyList<CodeUnit> units, TargetKind kind, IReadOnlyList<BoardSize> sizes)
    {
        (this.folder, this.process, this.units, Kind, this.sizes) = (folder, process, units, kind, sizes);
        step = units[0].Request.Step;
        Parameters = [.. units.SelectMany(u => u.Tunable).Where(t => IsPlain(t.Name)).Select(t => t.Name).Distinct()];
        given = new double[1 + units[0].Inputs.Count + Parameters.Count];
        tunable = [.. units.Select(u => u.Tunable.Select(t => IndexOf(t.Name)).ToArray())];
        rows = [.. units.Select(u => new double[u.Inputs.Count + u.Tunable.Count])];
        made = new double[units[0].Outputs.Count];
        answer = new double[made.Length + 1];
        costs = [.. units.Select(_ => new StepCosts())];
        history = new TakeOver(process, given.Length, made.Length, Row);
    }

    /// <summary>Place of a parameter among what is given; −1 where it stays as the code begins with it.</summary>
    int IndexOf(string parameter)
    {
        for (var i = 0; i < Parameters.Count; i++)
            if (Parameters[i] == parameter)
                return 1 + units[0].Inputs.Count + i;
        return -1;
    }

    /// <summary>Whether a parameter is one number with a name of its own.</summary>
    static bool IsPlain(string name) => Language.Syntax.Lexer.IsPlainIdentifier(name);

    public TargetKind Kind { get; }

    public IReadOnlyList<CodeUnit> Units => units;

    /// <summary>Names of the parameters that can be given other values while the code runs.</summary>
    public IReadOnlyList<string> Parameters { get; }

    /// <summary>Compiles the units and starts the process.</summary>
    /// <exception cref="DeliveryException">They have not the same inputs, outputs and step, cannot be compiled, or what the kind of target
    /// needs is not on this machine.</exception>
    public static Target Start(IReadOnlyList<CodeUnit> units, TargetKind kind, CancellationToken wanted)
    {
        if (!NativeCode.HasCompiler)
            throw new DeliveryException("compiler", "There is no C compiler on this machine.", "Install gcc.");
        if (kind == TargetKind.Board && !Board.IsThere)
            throw new DeliveryException(
                "board",
                "There is no simulated board on this machine.",
                $"Install it: apt-get install {string.Join(' ', Board.Packages)}. Or run the code on this machine."
            );
        foreach (var other in units.Skip(1))
            RefuseOthers(units[0], other);
        foreach (var unit in units)
            RefuseLarge(unit);
        var folder = Sandbox.Folder("target-");
        try
        {
            var headers = new List<(CodeUnit, string)>();
            var sources = new List<string>();
            foreach (var unit in units)
            {
                var files = CWriter.Write(unit);
                if (sources.Contains(files[1].Name))
                    throw new DeliveryException("names", $"Two units are called '{unit.Name}'.", "Give the parts different names.");
                foreach (var file in files)
                    File.WriteAllText(Path.Combine(folder, file.Name), file.Text);
                headers.Add((unit, files[0].Name));
                sources.Add(files[1].Name);
            }

            var surroundings = kind == TargetKind.Board ? Board.Surroundings : TargetHost.Process;
            File.WriteAllText(Path.Combine(folder, TargetHost.File), TargetHost.Of(headers, surroundings));
            var (compiled, sizes) =
                kind == TargetKind.Board
                    ? Board.Build(folder, TargetHost.File, sources, wanted)
                    : (NativeCode.Program(folder, ["./" + TargetHost.File, .. sources], "target", wanted), []);
            if (!compiled.Succeeded)
                throw new DeliveryException(
                    "compile",
                    $"The code does not compile: {compiled.Messages}",
                    "Tell the makers of Anchor Bend."
                );
            var process = new OutsideProcess(
                "The target",
                kind == TargetKind.Board ? Board.Command(compiled.Program) : Sandbox.Command(folder, file => [file("target")]),
                folder,
                Patience
            );
            return new Target(folder, process, units, kind, sizes);
        }
        catch
        {
            Directory.Delete(folder, true);
            throw;
        }
    }

    static void RefuseLarge(CodeUnit unit)
    {
        var largest = Math.Max(Math.Max(unit.Inputs.Count + unit.Tunable.Count, unit.Outputs.Count), CWriter.RememberedFields(unit).Count);
        if (largest > TargetHost.MostValues)
            throw new DeliveryException(
                "large",
                $"'{unit.Name}' has more than {TargetHost.MostValues} inputs, outputs or states.",
                "Deliver a smaller part of it."
            );
    }

    static void RefuseOthers(CodeUnit one, CodeUnit other)
    {
        static string Told(IEnumerable<CodePort> ports) =>
            string.Join(", ", ports.Select(p => p.Variable.Type == ScalarType.Real ? p.Name : $"{p.Name} ({p.Variable.Type})"));
        if (one.Request.Step != other.Request.Step)
            throw new DeliveryException("step", $"'{one.Name}' and '{other.Name}' run at different steps.", "Give both the same step.");
        foreach (var (a, b, what) in new[] { (one.Inputs, other.Inputs, "inputs"), (one.Outputs, other.Outputs, "outputs") })
            if (Told(a) != Told(b))
                throw new DeliveryException(
                    "ports",
                    $"'{one.Name}' and '{other.Name}' cannot take each other's place: the {what} are {Told(a)}, and {Told(b)}.",
                    "Deliver alternatives of one slot, or parts with the same ports."
                );
    }

    public void Put(int input, double value) => given[input] = value;

    public double Get(int output) => made[output];

    public void Step(double time)
    {
        var tick = (long)Math.Round(time / step);
        var wanted = Math.Clamp((int)Math.Round(given[0]) - 1, 0, units.Count - 1);
        var again = tick == last && wanted == active && !isNew;
        if (again && history.IsLast(given))
            return;
        if (tick == last && wanted != active)
            history.Withdraw();
        if (wanted != active)
        {
            Begin(wanted, time);
            again = false;
        }

        Row(wanted, given, rows[wanted]);
        process.Ask('s').With(wanted).With(again ? 1 : 0).With(rows[wanted]).Answer(answer);
        if (handingOver is { } pending)
            Note(pending);
        Array.Copy(answer, made, made.Length);
        if (again)
            history.Withdraw();
        history.Add(given, made);
        (last, active, isNew) = (tick, wanted, false);
        lock (own)
            costs[wanted].Note(answer[^1]);
        if (Kind == TargetKind.Board && ++steps % StackEvery == 1)
            stack = process.Ask('d').With(0).AnswerInteger();
    }

    /// <summary>Steps between two looks at the stack.</summary>
    const int StackEvery = 500;

    (double Time, int From, int To)? handingOver;

    void Begin(int unit, double time)
    {
        if (active < 0)
        {
            Row(unit, given, rows[unit]);
            process.Ask('b').With(unit).With(rows[unit]).AnswerInteger();
            return;
        }

        history.Into(unit, rows[unit].Length);
        handingOver = (time, active, unit);
    }

    /// <summary>Which output moved most as another unit took over, as part of its size.</summary>
    void Note((double Time, int From, int To) over)
    {
        var most = 0;
        double Move(int i) => Math.Abs(answer[i] - made[i]) / (1e-12 + Math.Max(Math.Abs(made[i]), history.SizeOf(i)));
        for (var i = 1; i < made.Length; i++)
            if (Move(i) > Move(most))
                most = i;
        lock (own)
            handOvers.Add(new HandOver(over.Time, over.From, over.To, units[0].Outputs[most].Name, made[most], answer[most]));
        handingOver = null;
    }

    /// <summary>What a unit is given, of what the target is given.</summary>
    void Row(int unit, ReadOnlySpan<double> all, Span<double> row)
    {
        var ins = units[unit].Inputs.Count;
        all.Slice(1, ins).CopyTo(row);
        for (var i = 0; i < tunable[unit].Length; i++)
            row[ins + i] = tunable[unit][i] is >= 0 and var at
                ? all[at]
                : units[unit].Parameters.Values[units[unit].Tunable[i].Variable.Index];
    }

    /// <summary>What the steps of each unit have cost so far.</summary>
    public IReadOnlyList<StepCostView> Costs()
    {
        lock (own)
            return [.. costs.Select(c => c.View())];
    }

    /// <summary>Bytes of each unit on the board, with the deepest stack so far; none for a process of this machine.</summary>
    public IReadOnlyList<BoardSize> Sizes()
    {
        lock (own)
            return [.. sizes.Select(s => s with { Stack = stack })];
    }

    public IReadOnlyList<HandOver> HandOvers()
    {
        lock (own)
            return [.. handOvers];
    }

    /// <summary>Number of the unit that has the plant, from 1.</summary>
    public int Active => Math.Max(active, 0) + 1;

    /// <summary>Whether its process goes on.</summary>
    public bool IsThere => process.IsThere;

    /// <summary>Whether its process has ended by itself.</summary>
    public bool IsLost => process.IsLost;

    public byte[] Save()
    {
        using var stream = new MemoryStream();
        using var writer = new BinaryWriter(stream);
        writer.Write(last);
        writer.Write(active);
        writer.Write(isNew);
        foreach (var value in given.Concat(made))
            writer.Write(value);
        for (var i = 0; i < units.Count; i++)
            writer.Write(history.Snapshot(i));
        return stream.ToArray();
    }

    public void Restore(byte[] state)
    {
        using var reader = new BinaryReader(new MemoryStream(state));
        (last, active, isNew) = (reader.ReadInt64(), reader.ReadInt32(), reader.ReadBoolean());
        for (var i = 0; i < given.Length; i++)
            given[i] = reader.ReadDouble();
        for (var i = 0; i < made.Length; i++)
            made[i] = reader.ReadDouble();
        for (var i = 0; i < units.Count; i++)
            history.GoBack(i, reader.ReadBytes(2 * history.SizeOfState(i)));
    }

    public void Dispose()
    {
        process.Dispose();
        if (Directory.Exists(folder))
            Directory.Delete(folder, true);
    }
}
