using System.Text.Json;
using System.Text.Json.Serialization;
using AnchorBend.Server.Endpoints;
using AnchorBend.Server.Models;
using AnchorBend.Server.Runs;
using AnchorBend.Server.Storage;

var builder = WebApplication.CreateSlimBuilder(new WebApplicationOptions { Args = args, ContentRootPath = AppContext.BaseDirectory });
var port = builder.Configuration.GetValue("port", 5180);
var data = builder.Configuration["data"] ?? Path.Combine(Environment.CurrentDirectory, "data");
if (string.IsNullOrEmpty(builder.Configuration["urls"])) builder.WebHost.UseUrls($"http://127.0.0.1:{port}");
builder.WebHost.ConfigureKestrel(k => k.Limits.MaxRequestBodySize = 32 << 20);
builder.Logging.AddSimpleConsole().SetMinimumLevel(LogLevel.Warning);

builder.Services.ConfigureHttpJsonOptions(o =>
{
    o.SerializerOptions.Converters.Add(new JsonStringEnumConverter(JsonNamingPolicy.CamelCase));
    o.SerializerOptions.DefaultIgnoreCondition = JsonIgnoreCondition.WhenWritingNull;
    o.SerializerOptions.NumberHandling = JsonNumberHandling.Strict;
});
// Without sign-in only this machine is served, and no page of another site under a name that was made to point here.
builder.Services.AddHostFiltering(o => o.AllowedHosts = ["localhost", "127.0.0.1", "[::1]"]);
builder.Services.AddProblemDetails();
builder.Services.AddExceptionHandler<ProblemHandler>();
builder.Services.AddOpenApi();
builder.Services.AddSignalR();
builder.Services.AddSingleton(_ => new Database(data));
builder.Services.AddSingleton<ModelStore>();
builder.Services.AddSingleton<OwnPackage>();
builder.Services.AddSingleton<ModelSessions>();
builder.Services.AddSingleton<RunPool>();
builder.Services.AddSingleton<IHubNotifier, HubNotifier>();

var app = builder.Build();
app.UseHostFiltering();
app.UseExceptionHandler();
app.UseStatusCodePages();
app.UseDefaultFiles();
app.UseStaticFiles();
app.MapOpenApi();
app.MapHub<LiveHub>("/hub");
var api = app.MapGroup("/api");
ModelEndpoints.Map(api);
RunEndpoints.Map(api);
TuneEndpoints.Map(api);
PartEndpoints.Map(api);
api.MapFallback((HttpContext context) => Problems.NotFound($"There is nothing at {context.Request.Path}."));
app.MapFallbackToFile("index.html");

app.Services.GetRequiredService<ModelSessions>().LoadExamples();
app.Lifetime.ApplicationStarted.Register(() => Console.WriteLine($"Anchor Bend is ready at {string.Join(" ", app.Urls)}"));
// The first model a user opens should not wait for the catalog to be read, nor its first run for the solvers to be compiled.
_ = Task.Run(WarmUp.Run);
app.Run();

/// <summary>Entry point, visible to tests.</summary>
public partial class Program;
