using System.Security.Cryptography.X509Certificates;
using System.Text.Json;
using System.Text.Json.Serialization;
using AnchorBend.Server.Endpoints;
using AnchorBend.Server.Maintenance;
using AnchorBend.Server.People;
using AnchorBend.Server.Runs;
using AnchorBend.Server.Security;
using AnchorBend.Server.Storage;
using AnchorBend.Server.Telemetry;
using AnchorBend.Simulation.Recording;
using AnchorBend.Workbench.Alternatives;
using AnchorBend.Workbench.Cases;
using AnchorBend.Workbench.Code;
using AnchorBend.Workbench.Compute;
using AnchorBend.Workbench.History;
using AnchorBend.Workbench.Lessons;
using AnchorBend.Workbench.Models;
using AnchorBend.Workbench.Parts;
using AnchorBend.Workbench.People;
using AnchorBend.Workbench.Runs;
using AnchorBend.Workbench.Scenes;
using AnchorBend.Workbench.Sheets;
using AnchorBend.Workbench.Shelf;
using AnchorBend.Workbench.Studies;
using AnchorBend.Workbench.Tuning;
using Microsoft.AspNetCore.SignalR;

if (DataCommands.Asked(args))
    return DataCommands.Run(args, Console.Out, Console.Error);
var builder = WebApplication.CreateSlimBuilder(new WebApplicationOptions { Args = args, ContentRootPath = AppContext.BaseDirectory });
var data = builder.Configuration["data"] ?? Path.Combine(Environment.CurrentDirectory, "data");
try
{
    var serving = Startup.Serving(builder.Configuration);
    builder.WebHost.UseUrls(serving.Addresses);
    builder.WebHost.UseKestrelHttpsConfiguration();
    builder.WebHost.ConfigureKestrel(k =>
    {
        k.Limits.MaxRequestBodySize = 16 << 20;
        k.AddServerHeader = false;
        if (serving.Certificate is { } certificate)
            k.ConfigureHttpsDefaults(h => h.ServerCertificate = X509Certificate2.CreateFromPemFile(certificate, serving.CertificateKey));
    });
    // One line an event with its values by name, for people and for whatever collects logs.
    builder.Logging.ClearProviders();
    if (builder.Configuration["log-form"] == "json")
        builder.Logging.AddJsonConsole(c => (c.UseUtcTimestamp, c.TimestampFormat) = (true, "yyyy-MM-ddTHH:mm:ss.fffZ"));
    else
        builder.Logging.AddSimpleConsole(c => (c.SingleLine, c.TimestampFormat) = (true, "yyyy-MM-dd HH:mm:ss "));
    builder
        .Logging.SetMinimumLevel(LogLevel.Warning)
        .AddFilter("AnchorBend", Enum.Parse<LogLevel>(builder.Configuration["log"] ?? "Warning", true));
    // What waits for its turn to compute holds a thread; others must not wait for the pool to grow.
    ThreadPool.SetMinThreads(128, 16);

    builder.Services.ConfigureHttpJsonOptions(o =>
    {
        o.SerializerOptions.Converters.Add(new JsonStringEnumConverter(JsonNamingPolicy.CamelCase));
        o.SerializerOptions.DefaultIgnoreCondition = JsonIgnoreCondition.WhenWritingNull;
        o.SerializerOptions.NumberHandling = JsonNumberHandling.Strict;
        o.SerializerOptions.PropertyNameCaseInsensitive = false;
        o.SerializerOptions.RespectNullableAnnotations = true;
        o.SerializerOptions.AllowOutOfOrderMetadataProperties = true;
    });
    // No page of another site is served under a name that was made to point here.
    builder.Services.AddHostFiltering(o => o.AllowedHosts = ["localhost", "127.0.0.1", "[::1]", .. serving.Hosts]);
    builder.Services.AddPeople(serving);
    builder.AddTelemetry();
    builder.Services.AddProblemDetails();
    builder.Services.AddExceptionHandler<ProblemHandler>();
    builder.Services.AddOpenApi(o => o.AddSchemaTransformer<DocumentSchema>());
    builder
        .Services.AddSignalR(o => o.AddFilter<VisitorOfHub>())
        .AddJsonProtocol(o =>
        {
            o.PayloadSerializerOptions.NumberHandling = JsonNumberHandling.AllowNamedFloatingPointLiterals;
            o.PayloadSerializerOptions.Converters.Add(new JsonStringEnumConverter(JsonNamingPolicy.CamelCase));
        });
    builder.Services.AddSingleton(_ => new Database(data));
    builder.Services.AddSingleton(s => new KeptRoom(s.GetRequiredService<Database>(), serving.RoomPerAccount));
    builder.Services.AddSingleton<IModelStore, ModelStore>();
    builder.Services.AddSingleton<IPartStore, PartStore>();
    builder.Services.AddSingleton<EventStream>();
    builder.Services.AddSingleton<Presence>();
    builder.Services.AddSingleton<INotifications, HubNotifier>();
    builder.Services.AddSingleton<ComputeGate>();
    builder.Services.AddSingleton<OwnPackage>();
    builder.Services.AddSingleton<OpenModels>();
    builder.Services.AddSingleton<IRunStore, RunStore>();
    builder.Services.AddSingleton<KeptRuns>();
    builder.Services.AddSingleton<RunPool>();
    builder.Services.AddSingleton<RunComparison>();
    builder.Services.AddSingleton<RunRecovery>();
    builder.Services.AddSingleton<RunImport>();
    builder.Services.AddSingleton<RunMeasures>();
    builder.Services.AddSingleton<StimulusCourses>();
    builder.Services.AddSingleton<RecordedCourses>();
    builder.Services.AddSingleton<RunSets>();
    builder.Services.AddSingleton<IStudyStore, StudyStore>();
    if (builder.Configuration["cluster"] is { Length: > 0 } shared)
    {
        // As nodes call it: by its name where it is on their path.
        var worker = builder.Configuration["worker"] ?? "anchor-bend";
        builder.Services.AddSingleton(new StudyCluster(Path.GetFullPath(shared), worker.Split(' ', StringSplitOptions.RemoveEmptyEntries)));
    }

    builder.Services.AddSingleton<BatchWorkers>();
    builder.Services.AddSingleton<StudyJobs>();
    builder.Services.AddSingleton<ICaseStore, CaseStore>();
    builder.Services.AddSingleton<CaseJobs>();
    builder.Services.AddSingleton<CaseWork>();
    builder.Services.AddSingleton<StudyWork>();
    builder.Services.AddSingleton<IMeshStore, MeshStore>();
    builder.Services.AddSingleton<MeshLibrary>();
    builder.Services.AddSingleton<IUnitStore, UnitStore>();
    builder.Services.AddSingleton<UnitWork>();
    builder.Services.AddSingleton<ModelWork>();
    builder.Services.AddSingleton<IShelfStore, ShelfStore>();
    builder.Services.AddSingleton<ShelfWork>();
    builder.Services.AddSingleton<CardWork>();
    builder.Services.AddSingleton<ILessonStore, LessonStore>();
    builder.Services.AddSingleton<LessonWork>();
    builder.Services.AddHostedService<TrashRound>();
    builder.Services.AddSingleton<SheetWork>();
    builder.Services.AddSingleton<ModelHistory>();
    builder.Services.AddSingleton<FieldCheck>();
    builder.Services.AddSingleton<TunedLoops>();
    builder.Services.AddSingleton<LoopTuning>();
    builder.Services.AddSingleton<ModelAnalysis>();
    builder.Services.AddSingleton<LoopSequence>();
    builder.Services.AddSingleton<PlantOrders>();
    builder.Services.AddSingleton<LoopElements>();
    builder.Services.AddSingleton<PoleAnalysis>();
    builder.Services.AddSingleton<SteadyStates>();
    builder.Services.AddSingleton<SystemAnalysis>();
    builder.Services.AddSingleton<FeedbackAnalysis>();
    builder.Services.AddSingleton<PointDesigns>();
    builder.Services.AddSingleton<PartTexts>();
    builder.Services.AddSingleton<PulseTests>();
    builder.Services.AddSingleton<ExchangerSizing>();
    builder.Services.AddSingleton<TwinFitting>();
    builder.Services.AddSingleton<CodeWork>();
    builder.Services.AddSingleton<ICodeCheckStore, CodeCheckStore>();
    builder.Services.AddSingleton<DeliveryWork>();

    var app = builder.Build();
    app.BeginTelemetry();
    if (serving.IsBehindProxy)
        app.UseForwardedHeaders();
    app.UseHostFiltering();
    app.UseExceptionHandler();
    app.UseStatusCodePages();
    app.UseMiddleware<OriginCheck>();
    app.UseMiddleware<JsonGate>();
    app.UseMiddleware<SignInCheck>();
    app.UseRateLimiter();
    app.UseDefaultFiles();
    app.UseStaticFiles();
    app.MapOpenApi();
    app.MapHub<LiveHub>("/hub");
    app.MapFallbackToFile("index.html").AllowAnonymous();
    var api = app.MapGroup("/api");
    ModelEndpoints.Map(api);
    ShelfEndpoints.Map(api);
    RunEndpoints.Map(api);
    PlayEndpoints.Map(api);
    ChartEndpoints.Map(api);
    PanelEndpoints.Map(api);
    ObserveEndpoints.Map(api);
    SceneEndpoints.Map(api);
    PlotEndpoints.Map(api);
    AlternativeEndpoints.Map(api);
    StudyEndpoints.Map(api);
    VerifyEndpoints.Map(api);
    CaseEndpoints.Map(api);
    SheetEndpoints.Map(api);
    HistoryEndpoints.Map(api);
    TuneEndpoints.Map(api);
    AnalysisEndpoints.Map(api);
    PartEndpoints.Map(api);
    CodeEndpoints.Map(api);
    EventEndpoints.Map(api);
    HealthEndpoints.Map(api);
    PeopleEndpoints.Map(api);
    HelpEndpoints.Map(api);
    LessonEndpoints.Map(api);
    api.MapFallback((HttpContext context) => Problems.NotFound($"There is nothing at {context.Request.Path}."));
    if (app.Services.GetRequiredService<Database>().IsNew)
        ExampleShelf.Fill(app.Services.GetRequiredService<IModelStore>(), app.Services.GetRequiredService<IShelfStore>());
    app.Services.GetRequiredService<UnitWork>().OfferAll();
    app.Services.GetRequiredService<StudyJobs>().Begin();
    app.Services.GetRequiredService<CaseJobs>().Begin();
    var traces = Path.Combine(data, "traces");
    TraceFolder.Use(traces);
    app.Lifetime.ApplicationStarted.Register(() =>
    {
        if (serving.NeedsSignIn && app.Services.GetRequiredService<SignInWork>() is { IsEmpty: true } people)
            Console.WriteLine($"Nobody can sign in yet. Open the page and make the first account with this code: {people.Invite()}");
        Console.WriteLine($"Anchor Bend is ready at {string.Join(" ", app.Urls)}");
    });
    app.Lifetime.ApplicationStopped.Register(() => TraceFolder.Sweep(traces));
    // The first model a user opens should not wait for the catalog to be read, nor its first run for the solvers to be compiled.
    _ = Task.Run(WarmUp.Run);
    app.Run();
    return 0;
}
catch (Exception e) when (Startup.Explain(e, data) is { } reason)
{
    Console.Error.WriteLine($"Anchor Bend cannot start. {reason}");
    return 1;
}

/// <summary>Entry point, visible to tests.</summary>
public partial class Program;
