using System.Text;
using AnchorBend.Language.Terms;
using AnchorBend.Simulation;

namespace AnchorBend.Delivery.Exchange;

/// <summary>
/// An instance of an exchange unit in a process of its own. It goes on from one communication point to the next with the inputs that it
/// was given at the first one; at a point it can be given other inputs as often as anybody likes, and outputs follow. What is put: first
/// parameters, then inputs, each in the order of the description.
/// </summary>
sealed class UnitProcess : IOutsideUnit, IDisposable
{
    static readonly TimeSpan Patience = TimeSpan.FromSeconds(20);

    readonly UnitDescription description;
    readonly OutsideProcess process;
    readonly UnitVariable[] given,
        made;
    readonly double[] values,
        sent,
        outputs;
    double last = double.NaN;
    bool isInitializing;
    bool isStale = true;
    long generation;

    /// <param name="folder">Holds the host, the program and the resources; anybody can read it.</param>
    /// <param name="library">The program's place in it.</param>
    /// <exception cref="SimulationException">It cannot be loaded.</exception>
    public UnitProcess(UnitDescription description, string folder, string library)
    {
        this.description = description;
        given = [.. description.Of(UnitRole.Parameter), .. description.Of(UnitRole.Input)];
        made = [.. description.Of(UnitRole.Output)];
        values = [.. given.Select(v => v.Start ?? 0)];
        sent = [.. given.Select(v => v.Start ?? double.NaN)];
        outputs = new double[made.Length];
        var resources = description.IsThird ? (Func<string, string>)(path => path + "/") : path => "file://" + path;
        process = new OutsideProcess(
            $"The exchange unit {description.Name}",
            Sandbox.Command(folder, file =>
                [
                    file(UnitLibrary.Host),
                    file(library),
                    description.IsThird ? "3" : "2",
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
            process.Dispose();
            throw;
        }
    }

    /// <summary>Sends what was asked; each answer begins with whether it went well.</summary>
    void Hear()
    {
        Span<byte> well = stackalloc byte[1];
        process.Answer(well);
        if (well[0] == 1)
            return;
        var words = new byte[process.AnswerInteger()];
        process.Answer(words.AsSpan());
        throw Failed(Encoding.UTF8.GetString(words));
    }

    SimulationException Failed(string words) =>
        new(
            new SimulationFailure(
                "unit",
                $"The exchange unit {description.Name} says: {words}.",
                "",
                null,
                double.IsNaN(last) ? 0 : last,
                "Look at what it is given; with a shorter step it may go further."
            )
        );

    public void Put(int input, double value) => values[input] = value;

    public void Step(double time)
    {
        if (double.IsNaN(last))
        {
            last = time;
            Send(v => v.Role == UnitRole.Parameter);
            process.Ask('i').With([time]);
            Hear();
            isInitializing = true;
            return;
        }

        if (!(time > last))
            return;
        Send(_ => true);
        if (isInitializing)
        {
            process.Ask('e');
            Hear();
            isInitializing = false;
        }

        process.Ask('s').With([last, time - last]);
        Hear();
        last = time;
        isStale = true;
        generation++;
    }

    /// <summary>Hands on what is another value than before.</summary>
    void Send(Func<UnitVariable, bool> which)
    {
        var changed = Enumerable.Range(0, given.Length).Where(i => which(given[i]) && !values[i].Equals(sent[i])).ToList();
        if (changed.Count == 0)
            return;
        process.Ask('p').With(changed.Count);
        foreach (var i in changed)
        {
            if (given[i] is { Role: UnitRole.Parameter, IsTunable: false } && !isInitializing && generation > 0)
                throw Failed($"its parameter {given[i].Name} cannot change while it runs");
            process.With([(byte)given[i].Kind]).With((int)given[i].Reference).With([values[i]]);
            sent[i] = values[i];
        }

        Hear();
        isStale = true;
    }

    public double Get(int output)
    {
        Send(_ => true);
        if (!isStale)
            return outputs[output];
        process.Ask('g').With(made.Length);
        foreach (var variable in made)
            process.With([(byte)variable.Kind]).With((int)variable.Reference);
        Hear();
        process.Answer(outputs.AsSpan());
        isStale = false;
        return outputs[output];
    }

    public byte[] Save()
    {
        using var stream = new MemoryStream();
        using var writer = new BinaryWriter(stream);
        writer.Write(generation);
        writer.Write(last);
        writer.Write(isInitializing);
        foreach (var value in values.Concat(sent))
            writer.Write(value);
        var state = Array.Empty<byte>();
        if (description.CanSave && !double.IsNaN(last))
        {
            process.Ask('k');
            Hear();
            state = new byte[process.AnswerInteger()];
            process.Answer(state.AsSpan());
        }

        writer.Write(state.Length);
        writer.Write(state);
        return stream.ToArray();
    }

    public void Restore(byte[] state)
    {
        using var reader = new BinaryReader(new MemoryStream(state));
        var (then, time, initializing) = (reader.ReadInt64(), reader.ReadDouble(), reader.ReadBoolean());
        foreach (var list in new[] { values, sent })
            for (var i = 0; i < list.Length; i++)
                list[i] = reader.ReadDouble();
        var bytes = reader.ReadBytes(reader.ReadInt32());
        // Where it stands, it need not be brought.
        if (then == generation && time.Equals(last))
            return;
        if (!description.CanSave)
            throw new DeliveryException(
                "unit-state",
                $"The exchange unit {description.Name} cannot be brought back to where it was: it does not save its state.",
                "Run the model anew."
            );
        if (double.IsNaN(last))
        {
            process.Ask('i').With([time]);
            Hear();
            if (!initializing)
            {
                process.Ask('e');
                Hear();
            }
        }

        process.Ask('b').With(bytes.Length).With(bytes);
        Hear();
        (generation, last, isInitializing, isStale) = (then, time, initializing, true);
    }

    public void Dispose() => process.Dispose();
}
