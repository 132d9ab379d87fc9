using System.Text;
using AnchorBend.Simulation;

namespace AnchorBend.Delivery.Exchange;

/// <summary>An exchange unit that was loaded by a process of its own, and what both kinds of units are asked.</summary>
sealed class UnitInstance : IDisposable
{
    static readonly TimeSpan Patience = TimeSpan.FromSeconds(20);

    readonly UnitDescription description;

    /// <param name="folder">Holds the host, the program and the resources; anybody can read it.</param>
    /// <param name="library">The program's place in it.</param>
    /// <exception cref="SimulationException">It cannot be loaded.</exception>
    public UnitInstance(UnitDescription description, string folder, string library)
    {
        this.description = description;
        var resources = description.IsThird ? (Func<string, string>)(path => path + "/") : path => "file://" + path;
        Process = new OutsideProcess(
            $"The exchange unit {description.Name}",
            Sandbox.Command(folder, file =>
                [
                    file(UnitLibrary.Host),
                    file(library),
                    (description.IsThird ? "3" : "2") + (description.Flow is null ? "" : "x"),
                    description.Token,
                    description.Identifier,
                    resources(file("resources")),
                ]
            ),
            folder,
            Patience
        );
        try
        {
            Hear();
        }
        catch
        {
            Process.Dispose();
            throw;
        }
    }

    public OutsideProcess Process { get; }

    /// <summary>Where it stands, s, for messages; no number before it has begun.</summary>
    public double Time { get; set; } = double.NaN;

    static long marks;

    /// <summary>A mark of what it has become by its last step or event, which nothing else ever has.</summary>
    public long Mark { get; set; }

    /// <summary>It has become something else.</summary>
    public void Moved() => Mark = Interlocked.Increment(ref marks);

    /// <summary>Sends what was asked; each answer begins with whether it went well.</summary>
    public void Hear()
    {
        Span<byte> well = stackalloc byte[1];
        Process.Answer(well);
        if (well[0] == 1)
            return;
        var words = new byte[Process.AnswerInteger()];
        Process.Answer(words.AsSpan());
        throw Failed(Encoding.UTF8.GetString(words));
    }

    public SimulationException Failed(string words) =>
        new(
            new SimulationFailure(
                "unit",
                $"The exchange unit {description.Name} says: {words}.",
                "",
                null,
                double.IsNaN(Time) ? 0 : Time,
                "Look at what it is given; with a shorter step it may go further."
            )
        );

    public void Ask(char what)
    {
        Process.Ask(what);
        Hear();
    }

    public void Enter(double time)
    {
        Process.Ask('i').With([time]);
        Hear();
    }

    /// <summary>Enters and leaves its initialization.</summary>
    public void Initialize(double time)
    {
        Enter(time);
        Ask('e');
    }

    public void Reset() => Ask('r');

    public void Set(IReadOnlyList<UnitVariable> variables, ReadOnlySpan<double> values)
    {
        if (variables.Count == 0)
            return;
        Process.Ask('p').With(variables.Count);
        for (var i = 0; i < variables.Count; i++)
            Process.With([(byte)variables[i].Kind]).With((int)variables[i].Reference).With([values[i]]);
        Hear();
    }

    public void Get(IReadOnlyList<UnitVariable> variables, Span<double> into)
    {
        Process.Ask('g').With(variables.Count);
        foreach (var variable in variables)
            Process.With([(byte)variable.Kind]).With((int)variable.Reference);
        Hear();
        Process.Answer(into);
    }

    public byte[] Save()
    {
        Ask('k');
        var state = new byte[Process.AnswerInteger()];
        Process.Answer(state.AsSpan());
        return state;
    }

    public void Restore(byte[] state)
    {
        Process.Ask('b').With(state.Length).With(state);
        Hear();
    }

    public DeliveryException NotSaved() =>
        new(
            "unit-state",
            $"The exchange unit {description.Name} cannot be brought back to where it was: it does not save its state.",
            "Run the model anew."
        );

    public void Dispose() => Process.Dispose();
}
