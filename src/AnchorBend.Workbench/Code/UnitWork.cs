using AnchorBend.Delivery;
using AnchorBend.Delivery.Exchange;
using AnchorBend.Modeling.Catalog;
using AnchorBend.Modeling.Documents;
using AnchorBend.Workbench.Compute;

namespace AnchorBend.Workbench.Code;

/// <summary>Keeps exchange units of others, as they were packed, by the hash of their bytes.</summary>
public interface IUnitStore
{
    IReadOnlyList<string> Hashes();

    /// <summary>Null where there is no such unit.</summary>
    byte[]? Find(string hash);

    void Put(string hash, byte[] packed);
}

/// <summary>An exchange unit that was taken in, with the class that a part of it has.</summary>
/// <param name="Version">Of the standard.</param>
/// <param name="Left">What of it is not used here.</param>
/// <param name="HasWalls">Whether its program runs with walls around it on this machine, and not with limits alone.</param>
public sealed record TakenUnit(
    string Name,
    string Version,
    string Tool,
    TextDefinition Definition,
    IReadOnlyList<string> Inputs,
    IReadOnlyList<string> Outputs,
    IReadOnlyList<string> Parameters,
    IReadOnlyList<string> Left,
    bool HasWalls
);

/// <summary>Exchange units of others that compute parts of models.</summary>
public sealed class UnitWork(IUnitStore store, ComputeGate compute)
{
    static readonly TimeSpan MostReading = TimeSpan.FromSeconds(60);

    /// <summary>Units that a file of a model may bring.</summary>
    const int MostInFile = 50;

    /// <summary>Offers all that are kept to all runs; none is unpacked before a run needs it.</summary>
    public void OfferAll()
    {
        foreach (var hash in store.Hashes())
            UnitLibrary.Offer(hash, () => store.Find(hash) ?? throw UnitLibrary.Gone(hash));
    }

    /// <summary>Reads a unit, tries it, and keeps it.</summary>
    /// <exception cref="DeliveryException">It cannot be used here; says why.</exception>
    public TakenUnit Take(byte[] file, CancellationToken wanted) => compute.Run(MostReading, wanted, w => Taken(file, w));

    TakenUnit Taken(byte[] file, CancellationToken wanted)
    {
        var unit = UnitArchive.Read(file, wanted);
        UnitLibrary.Add(unit, wanted);
        UnitTrial.Of(unit);
        store.Put(unit.Hash, file);
        var description = unit.Description;
        return new TakenUnit(
            description.Name,
            description.IsThird ? "3.0" : "2.0",
            description.Tool,
            UnitClass.Of(unit, UnitClass.Plain(description.Name)),
            Names(UnitRole.Input),
            Names(UnitRole.Output),
            Names(UnitRole.Parameter),
            description.Left,
            Sandbox.HasWalls
        );

        IReadOnlyList<string> Names(UnitRole role) => [.. description.Of(role).Select(v => v.Name)];
    }

    /// <summary>A document with the units that compute its parts, for a file.</summary>
    public ModelDocument WithUnits(ModelDocument document)
    {
        var units = new Dictionary<string, string>();
        foreach (var hash in UnitFiles.Used(document))
            if (store.Find(hash) is { } packed)
                units[hash] = Convert.ToBase64String(packed);
        return units.Count == 0 ? document : document with { Units = units };
    }

    /// <summary>Keeps the units that a file brings; gives the document without them.</summary>
    /// <exception cref="DocumentException">One of them is none, or they are too many.</exception>
    public ModelDocument TakeFrom(ModelDocument document, CancellationToken wanted)
    {
        if (document.Units is not { } units)
            return document;
        if (units.Count > MostInFile)
            throw new DocumentException($"The file brings {units.Count} exchange units; at most {MostInFile} are taken.");
        foreach (var unit in compute.Run(MostReading, wanted, w => UnitFiles.Read(document, w)))
            store.Put(unit.Hash, unit.Bytes.ToArray());
        return document with { Units = null };
    }
}

/// <summary>Exchange units in files of models.</summary>
public static class UnitFiles
{
    /// <summary>Hashes of the units that compute parts of a model.</summary>
    public static IEnumerable<string> Used(ModelDocument document) =>
        document.Definitions.Values.OfType<TextDefinition>().Select(d => d.Unit).OfType<string>().Distinct();

    /// <summary>A model with a part that a unit computes, and with the unit.</summary>
    /// <param name="label">What the part is called.</param>
    public static ModelDocument With(ModelDocument document, UnitArchive unit, string label)
    {
        static string Free(string wanted, Func<string, bool> isTaken)
        {
            var name = wanted;
            for (var i = 2; isTaken(name); i++)
                name = FormattableString.Invariant($"{wanted}{i}");
            return name;
        }

        var main = document.Main;
        var catalog = PartCatalog.Of(document);
        var definition = Free("unit", document.Definitions.ContainsKey);
        var part = Free("unit", main.Parts.ContainsKey);
        var type = Free(UnitClass.Plain(unit.Description.Name), n => catalog.Find(n) is not null);
        var node = new PartNode
        {
            Type = DefinitionReference.OfOwn(definition),
            Name = Free(label, n => main.Parts.Values.Any(p => p.Name == n)),
            Y = main.Parts.Values.Select(p => p.Y + 128).DefaultIfEmpty(0).Max(),
        };
        return document.With(definition, UnitClass.Of(unit, type)).WithMain(main with { Parts = new(main.Parts) { [part] = node } }) with
        {
            Units = new(document.Units ?? []) { [unit.Hash] = Convert.ToBase64String(unit.Bytes) },
        };
    }

    /// <summary>Reads the units that a file brings, and offers them to all runs.</summary>
    /// <exception cref="DocumentException">One of them is none.</exception>
    public static IReadOnlyList<UnitArchive> Read(ModelDocument document, CancellationToken wanted)
    {
        var units = new List<UnitArchive>();
        foreach (var (hash, text) in document.Units ?? [])
        {
            try
            {
                var unit = UnitArchive.Read(Convert.FromBase64String(text ?? ""), wanted);
                if (unit.Hash != hash)
                    throw new DeliveryException("unit", "It is not the one that its name says.", "Import it again.");
                UnitLibrary.Add(unit, wanted);
                units.Add(unit);
            }
            catch (Exception e) when (e is DeliveryException or FormatException)
            {
                throw new DocumentException($"The exchange unit '{DocumentLimits.Short(hash)}' of the file cannot be read. {e.Message}");
            }
        }

        return units;
    }
}
