using System.Diagnostics.Metrics;
using AnchorBend.Workbench.Compute;
using AnchorBend.Workbench.Models;
using AnchorBend.Workbench.Runs;
using OpenTelemetry;
using OpenTelemetry.Metrics;
using OpenTelemetry.Resources;
using OpenTelemetry.Trace;

namespace AnchorBend.Server.Telemetry;

/// <summary>Metrics and traces by OpenTelemetry, sent where the environment says so (OTEL_EXPORTER_OTLP_ENDPOINT); else nothing.</summary>
static class Telemetry
{
    const string Endpoint = "OTEL_EXPORTER_OTLP_ENDPOINT";

    public static void AddTelemetry(this WebApplicationBuilder builder)
    {
        if (string.IsNullOrEmpty(builder.Configuration[Endpoint]))
            return;
        builder.Services.AddSingleton<HeldFigures>();
        builder
            .Services.AddOpenTelemetry()
            .ConfigureResource(r => r.AddService("anchor-bend", serviceVersion: typeof(Telemetry).Assembly.GetName().Version?.ToString(3)))
            .WithMetrics(m => m.AddMeter(WorkFigures.Name, HeldFigures.Name).AddAspNetCoreInstrumentation().AddRuntimeInstrumentation())
            .WithTracing(t => t.AddSource(WorkFigures.Name).AddAspNetCoreInstrumentation())
            .UseOtlpExporter();
    }

    public static void BeginTelemetry(this WebApplication app) => app.Services.GetService<HeldFigures>();
}

/// <summary>What the server holds in memory for its users.</summary>
sealed class HeldFigures : IDisposable
{
    public const string Name = "AnchorBend.Server";

    readonly Meter meter = new(Name);

    public HeldFigures(OpenModels open, RunPool runs)
    {
        meter.CreateObservableGauge("anchorbend.models.open", () => open.Open.Count(), "{model}", "Models that are held in memory");
        meter.CreateObservableGauge("anchorbend.runs.kept", () => runs.Kept().Count, "{run}", "Runs that are held in memory");
        meter.CreateObservableGauge("anchorbend.traces.size", () => runs.Kept().Bytes, "By", "Memory of their traces");
    }

    public void Dispose() => meter.Dispose();
}
