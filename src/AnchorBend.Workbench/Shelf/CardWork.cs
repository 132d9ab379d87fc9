using System.Text.Json;
using System.Text.Json.Serialization;
using AnchorBend.Modeling.Catalog;
using AnchorBend.Modeling.Documents;
using AnchorBend.Workbench.Compute;
using AnchorBend.Workbench.Models;
using AnchorBend.Workbench.People;

namespace AnchorBend.Workbench.Shelf;

/// <summary>Cards of models and examples, made when they are first looked at and kept until the model or the program changes.</summary>
public sealed class CardWork(IShelfStore shelf, IModelStore store, OwnPackage package, ComputeGate compute) : IDisposable
{
    static readonly JsonSerializerOptions Json = Options();

    static JsonSerializerOptions Options()
    {
        var options = new JsonSerializerOptions(DocumentJson.Options(false));
        if (!options.Converters.OfType<JsonStringEnumConverter>().Any())
            options.Converters.Add(new JsonStringEnumConverter(JsonNamingPolicy.CamelCase));
        return options;
    }

    /// <summary>This program: another one may draw and compute otherwise.</summary>
    static readonly string Stamp = typeof(CardWork).Module.ModuleVersionId.ToString("N");

    /// <summary>One after the other: a page full of new cards must not take the processors from who works.</summary>
    readonly SemaphoreSlim turn = new(1);

    /// <exception cref="NotFoundException">There is no such model.</exception>
    public Task<ModelCard> OfModel(string id, CancellationToken wanted)
    {
        Visitor.Demand(id, Access.View);
        var revision = shelf.Revision(id) ?? throw NotFoundException.Model(id);
        return Of(id, revision, () => store.Load(id) is { } stored ? (DocumentJson.Read(stored.Document), stored.Revision) : null, wanted);
    }

    /// <exception cref="NotFoundException">There is no such example.</exception>
    public Task<ModelCard> OfExample(string key, CancellationToken wanted) =>
        Of($"example/{key}", 0, () => Examples.All().GetValueOrDefault(key) is { } document ? (document, 0) : null, wanted);

    /// <param name="read">The document with the revision that it is of by now; null where it is gone.</param>
    async Task<ModelCard> Of(string key, long revision, Func<(ModelDocument, long)?> read, CancellationToken wanted)
    {
        if (Kept(key, revision) is { } kept)
            return kept;
        // Those who wait hold no thread.
        await turn.WaitAsync(wanted);
        try
        {
            if (Kept(key, revision) is { } meanwhile)
                return meanwhile;
            var (document, now) = read() ?? throw new NotFoundException($"There is no '{DocumentLimits.Short(key)}' to look at.");
            var catalog = PartCatalog.Of(document, package.Catalog);
            var card = ModelCard.Of(document, catalog, now, compute, wanted);
            var stamp = card.Problem == ModelCard.TooLong ? Passing : Stamp;
            shelf.PutCard(key, now, stamp, ModelCard.FactsOf(document, catalog), JsonSerializer.Serialize(card, Json));
            return card;
        }
        finally
        {
            turn.Release();
        }
    }

    /// <summary>For cards that were not finished, perhaps as the machine had other work: they are made again in another hour.</summary>
    static string Passing => $"{Stamp} {DateTime.UtcNow:yyyyMMddHH}";

    ModelCard? Kept(string key, long revision) =>
        (shelf.Card(key, revision, Stamp) ?? shelf.Card(key, revision, Passing)) is { } text
            ? JsonSerializer.Deserialize<ModelCard>(text, Json)
            : null;

    public void Dispose() => turn.Dispose();
}
