using System.Text.Json.Nodes;
using AnchorBend.Modeling.Documents;
using AnchorBend.Workbench.Alternatives;
using AnchorBend.Workbench.Cases;
using AnchorBend.Workbench.Code;
using AnchorBend.Workbench.Compute;
using AnchorBend.Workbench.Models;
using AnchorBend.Workbench.Runs;
using AnchorBend.Workbench.Scenes;
using AnchorBend.Workbench.Studies;
using Microsoft.Extensions.Logging.Abstractions;

namespace AnchorBend.Workbench.Tests;

/// <summary>A store in memory, for the use cases without a database.</summary>
sealed class MemoryStore : IModelStore, IPartStore, IMeshStore
{
    readonly Dictionary<string, (string Document, long Revision, List<(EditEntry Entry, Edit Edit)> Log)> models = [];

    /// <summary>Makes the next edit fail as a full disk does.</summary>
    public bool IsFull { get; set; }

    public IReadOnlyList<ModelSummary> List(int offset, int limit) =>
        [.. models.Select(m => new ModelSummary(m.Key, "", "", m.Value.Revision)).Skip(offset).Take(limit)];

    public string Create(ModelDocument document)
    {
        var id = $"m{models.Count + 1}";
        models[id] = (document.ToJson(), 0, []);
        return id;
    }

    public bool Delete(string id) => models.Remove(id);

    public StoredModel? Load(string id) =>
        models.TryGetValue(id, out var m)
            ? new StoredModel((JsonObject)JsonNode.Parse(m.Document)!, m.Revision, [.. m.Log.Select(e => e.Entry)])
            : null;

    public (IReadOnlyList<PatchOperation> Operations, IReadOnlyList<PatchOperation> Inverse) Operations(string id, long revision)
    {
        var (_, edit) = models[id].Log.Single(e => e.Entry.Revision == revision);
        return (edit.Operations, edit.Inverse);
    }

    public void Append(string id, EditEntry entry, Edit edit, string modelName, Func<string> document)
    {
        if (IsFull)
            throw new IOException("The disk is full.");
        var model = models[id];
        model.Log.Add((entry, edit));
        models[id] = (document(), entry.Revision, model.Log);
    }

    readonly Dictionary<(string, long), Checkpoint> checkpoints = [];

    public IReadOnlyList<HistoryEntry> History(string id, long before, int limit) =>
        [
            .. models[id]
                .Log.Select(e => e.Entry)
                .Where(e => e.Revision < before)
                .OrderByDescending(e => e.Revision)
                .Take(limit)
                .Select(e => new HistoryEntry(e.Revision, e.Kind, e.Target, e.Label, e.Author, "", e.Effect.ToString())),
        ];

    public IEnumerable<IReadOnlyList<PatchOperation>> Back(string id, long revision) =>
        models[id].Log.Where(e => e.Entry.Revision > revision).OrderByDescending(e => e.Entry.Revision).Select(e => e.Edit.Inverse);

    public IReadOnlyList<Checkpoint> Checkpoints(string id) =>
        [.. checkpoints.Where(c => c.Key.Item1 == id).Select(c => c.Value).OrderByDescending(c => c.Revision)];

    public void Put(string id, Checkpoint checkpoint) => checkpoints[(id, checkpoint.Revision)] = checkpoint;

    public bool RemoveCheckpoint(string id, long revision) => checkpoints.Remove((id, revision));

    readonly Dictionary<string, byte[]> meshes = [];

    byte[]? IMeshStore.Find(string hash) => meshes.GetValueOrDefault(hash);

    public void Put(string hash, byte[] packed) => meshes[hash] = packed;

    IReadOnlyDictionary<string, string> IPartStore.Load() => new Dictionary<string, string>();

    public void Put(string name, string text) { }

    public void Remove(string name) { }
}

/// <summary>The use cases over a store in memory, and what windows were told.</summary>
sealed class Bench : INotifications
{
    /// <param name="studies">What a program before has kept of studies.</param>
    /// <param name="cases">And of cases.</param>
    public Bench(MemoryStudyStore? studies = null, StudyCluster? cluster = null, MemoryCaseStore? cases = null)
    {
        Workers = new BatchWorkers(Compute);
        CaseStore = cases ?? new();
        StudyStore = studies ?? new();
        Package = new OwnPackage(Store);
        Open = new OpenModels(Store, Package, Compute, NullLogger<OpenModels>.Instance);
        KeptRuns = new KeptRuns(RunStore, Package, Compute);
        Runs = new RunPool(this, Compute, KeptRuns, NullLogger<RunPool>.Instance);
        Sets = new RunSets(Runs, Compute, NullLogger<RunSets>.Instance);
        Studies = new StudyJobs(StudyStore, Package, Compute, Workers, this, NullLogger<StudyJobs>.Instance, cluster);
        Cases = new CaseJobs(CaseStore, Package, Compute, Workers, this, NullLogger<CaseJobs>.Instance);
        Meshes = new MeshLibrary(Store, Compute);
        Models = new ModelWork(
            Store,
            Open,
            Package,
            Runs,
            Sets,
            Studies,
            Cases,
            Meshes,
            new UnitWork(new MemoryUnits(), Compute),
            Compute,
            this,
            NullLogger<ModelWork>.Instance
        );
        Comparison = new RunComparison(Runs, Compute);
        Recovery = new RunRecovery(Runs, Compute, this);
        Import = new RunImport(Runs, Models, Compute);
        Measures = new RunMeasures(Runs, Compute);
    }

    public MemoryStore Store { get; } = new();

    public MemoryRunStore RunStore { get; } = new();

    public MemoryStudyStore StudyStore { get; }

    public StudyJobs Studies { get; }

    public MemoryCaseStore CaseStore { get; }

    public CaseJobs Cases { get; }

    public MeshLibrary Meshes { get; }

    public BatchWorkers Workers { get; }

    public KeptRuns KeptRuns { get; }

    public RunComparison Comparison { get; }

    public RunRecovery Recovery { get; }

    public RunImport Import { get; }

    public RunMeasures Measures { get; }

    /// <summary>Frames that windows were sent.</summary>
    public System.Collections.Concurrent.ConcurrentQueue<(string Watcher, RunFrame Frame)> Frames { get; } = [];

    /// <summary>A run of the model as it is now, at its end.</summary>
    public async Task<RunJob> Run(string id, string? client = null)
    {
        var job = Runs.Start(Models.Session(id), default, client);
        await job.Finished;
        return job;
    }

    public ComputeGate Compute { get; } = new();

    public OwnPackage Package { get; }

    public OpenModels Open { get; }

    public RunPool Runs { get; }

    public RunSets Sets { get; }

    public ModelWork Models { get; }

    public List<string> Told { get; } = [];

    public string Create(ModelDocument document) => Models.Create(new NewModel(null, null, document.ToJson(), null, null), default);

    /// <summary>An edit of the root's level on the present revision.</summary>
    public EditAnswer Edit(string id, params PatchOperation[] operations) => EditAt(id, PartPath.Root, operations);

    public EditAnswer EditAt(string id, PartPath level, params PatchOperation[] operations) =>
        Models.Edit(id, new EditOrigin(Models.Session(id).Revision, level, "w"), "test", operations, default);

    public void Changed(string modelId, long revision, string? client) => Told.Add($"changed {modelId} {revision} {client}");

    public void Progress(string modelId, string runId, double part) { }

    public void RunChanged(string modelId, RunSummary run) => Told.Add($"run {modelId} {run.Number} {run.State}");

    public void Frame(string watcher, RunFrame frame) => Frames.Enqueue((watcher, frame));

    public void StudyChanged(string modelId, StudyJobView study) => Told.Add($"study {modelId} {study.State}");

    public void CasesChanged(string modelId, SuiteView suite) => Told.Add($"cases {modelId} {suite.Done} {suite.State}");

    public void PartsChanged(string modelId, string part) => Told.Add($"parts {modelId} {part}");
}

/// <summary>Exchange units in memory.</summary>
sealed class MemoryUnits : IUnitStore
{
    readonly Dictionary<string, byte[]> units = [];

    public IReadOnlyList<string> Hashes() => [.. units.Keys];

    public byte[]? Find(string hash) => units.GetValueOrDefault(hash);

    public void Put(string hash, byte[] packed) => units[hash] = packed;
}
