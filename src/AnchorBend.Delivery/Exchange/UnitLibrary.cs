using System.Collections.Concurrent;
using AnchorBend.Language.Terms;
using AnchorBend.Simulation;

namespace AnchorBend.Delivery.Exchange;

/// <summary>Exchange units of others that are at hand, unpacked once for all runs of this program.</summary>
public static class UnitLibrary
{
    /// <summary>The program that loads units, in each unit's folder.</summary>
    public const string Host = "-unit_host";

    static readonly ConcurrentDictionary<string, Opened> Known = [];
    static readonly ConcurrentDictionary<long, string> ByKind = [];
    static readonly Lock Guard = new();
    static string? host;

    /// <param name="Library">The program, from the folder on.</param>
    sealed record Opened(UnitDescription Description, string Folder, string Library);

    /// <summary>Unpacks a unit and offers it to all runs.</summary>
    /// <exception cref="DeliveryException">It cannot be unpacked, or there is no compiler for what loads it.</exception>
    public static void Add(UnitArchive archive, CancellationToken wanted)
    {
        Unpacked(archive.Hash, () => archive, wanted);
        Offer(archive.Hash, () => archive.Bytes.ToArray());
    }

    /// <summary>Offers a unit that is kept somewhere: it is unpacked when a run first calls it.</summary>
    /// <exception cref="DeliveryException">Another unit has the number that equations would call this one by.</exception>
    public static void Offer(string hash, Func<byte[]> bytes)
    {
        if (ByKind.GetOrAdd(OutsideUnits.KindOf(hash), hash) != hash)
            throw new DeliveryException(
                "unit",
                $"The exchange unit '{hash}' has the number of another one.",
                "Have it packed anew, which gives it another."
            );
        OutsideUnits.Offer(OutsideUnits.KindOf(hash), () =>
        {
            try
            {
                var unit = Unpacked(hash, () => UnitArchive.Read(bytes(), default), default);
                var instance = new UnitInstance(unit.Description, unit.Folder, unit.Library);
                return unit.Description.Flow is null
                    ? new UnitProcess(unit.Description, instance)
                    : new UnitFlow(unit.Description, instance);
            }
            catch (DeliveryException e)
            {
                throw new SimulationException(new SimulationFailure(e.Code, e.Message, "", null, 0, e.Advice));
            }
        });
    }

    /// <summary>That a unit is not there any more that was.</summary>
    public static DeliveryException Gone(string hash) =>
        new("unit", $"The exchange unit '{hash}' is not kept any more.", "Import it again.");

    static Opened Unpacked(string hash, Func<UnitArchive> read, CancellationToken wanted)
    {
        if (Known.TryGetValue(hash, out var known))
            return known;
        lock (Guard)
        {
            if (Known.TryGetValue(hash, out known))
                return known;
            var archive = read();
            var folder = Sandbox.Folder("exchange-unit-");
            AppDomain.CurrentDomain.ProcessExit += (_, _) => Removed(folder);
            var library = Path.GetRelativePath(folder, archive.ExtractTo(folder, wanted));
            File.Copy(HostProgram(wanted), Path.Combine(folder, Host));
            return Known[hash] = new Opened(archive.Description, folder, library);
        }
    }

    static void Removed(string folder)
    {
        try
        {
            Directory.Delete(folder, true);
        }
        catch (IOException)
        {
            // Somebody still reads it; the system clears temporary folders.
        }
    }

    static string HostProgram(CancellationToken wanted)
    {
        if (host is not null)
            return host;
        if (!NativeCode.HasCompiler)
            throw new DeliveryException(
                "compiler",
                "There is no C compiler on this machine, which makes what loads units.",
                "Install gcc."
            );
        var folder = Sandbox.Folder("exchange-host-");
        using (var from = typeof(UnitLibrary).Assembly.GetManifestResourceStream("unit_host.c")!)
        using (var to = File.Create(Path.Combine(folder, "unit_host.c")))
            from.CopyTo(to);
        var made = NativeCode.Program(folder, ["unit_host.c", "-ldl"], "unit_host", wanted);
        if (!made.Succeeded)
            throw new DeliveryException(
                "compile",
                $"What loads units does not compile: {made.Messages}",
                "Tell the makers of Anchor Bend."
            );
        AppDomain.CurrentDomain.ProcessExit += (_, _) => Removed(folder);
        return host = made.Program;
    }
}
