using System.CommandLine;
using System.Text.Json;
using AnchorBend.Compiler.Preparation;
using AnchorBend.Interchange.Traces;
using AnchorBend.Modeling.Catalog;
using AnchorBend.Modeling.Documents;
using AnchorBend.Simulation;
using AnchorBend.Workbench.Alternatives;
using AnchorBend.Workbench.Cases;
using AnchorBend.Workbench.Coverage;
using AnchorBend.Workbench.Models;
using AnchorBend.Workbench.Reports;
using AnchorBend.Workbench.Requirements;

namespace AnchorBend.Cli;

/// <summary><c>anchor-bend test</c>: runs the test cases of a document, for people and for build servers.</summary>
static class TestCommand
{
    sealed record Answer(int Passed, int Failed, IReadOnlyList<CaseResult> Cases, CoverageView? Coverage);

    public static Command Create()
    {
        var file = CommandParts.File();
        var suite = new Option<string[]>("--suite") { Description = "Only cases of this group, or with this tag; may be repeated" };
        var only = new Option<string[]>("--case") { Description = "Only the case of this name; may be repeated" };
        var results = new Option<FileInfo?>("--results")
        {
            Description = "A file that keeps the newest result of each case; cases that are not run now keep theirs",
        };
        var failed = new Option<bool>("--failed") { Description = "Only cases that have not passed, by the file of --results" };
        var coverage = new Option<bool>("--coverage") { Description = "What the cases came by, and what they did not" };
        var junit = new Option<FileInfo?>("--junit") { Description = "Writes the outcome for build servers (JUnit XML)" };
        var report = new Option<FileInfo?>("--report") { Description = "Writes a report: .html, or .pdf where a browser is installed" };
        var traces = new Option<DirectoryInfo?>("--traces")
        {
            Description = "A folder that gets a table (CSV) of all inputs and outputs of parts for each case",
        };
        var jobs = new Option<int?>("--jobs") { Description = "How many cases at once; as many as there are processors without it" };
        var json = new Option<bool>("--json") { Description = "All results as JSON" };
        var command = new Command("test", "Run the test cases of a model document; exit code 1 when one does not pass")
        {
            file,
            suite,
            only,
            failed,
            results,
            coverage,
            junit,
            report,
            traces,
            jobs,
            json,
        };
        command.SetAction(
            (parsed, cancellation) =>
                Task.FromResult(
                    CommandParts.Guarded(() =>
                    {
                        if (ModelFile.Read(parsed.GetValue(file)!).Document is not { } document)
                            throw new CommandException("Test cases belong to model documents (.json); text models have none.");
                        if (parsed.GetValue(failed) && parsed.GetValue(results) is null)
                            throw new CommandException("--failed needs the file of the last results: name it with --results.");
                        if (parsed.GetValue(report)?.Extension.ToLowerInvariant() is not (null or ".html" or ".pdf"))
                            throw new CommandException("--report writes a file that ends in .html or .pdf.");
                        var known = Known(parsed.GetValue(results));
                        var chosen = Chosen(document, parsed.GetValue(suite) ?? [], parsed.GetValue(only) ?? []);
                        if (parsed.GetValue(failed))
                            chosen = [.. chosen.Where(c => known.GetValueOrDefault(c.Id)?.Outcome != CaseOutcome.Passed)];
                        var isQuiet = parsed.GetValue(json);
                        parsed.GetValue(traces)?.Create();
                        var work = parsed.GetValue(jobs) ?? Environment.ProcessorCount;
                        var made = Run(document, chosen, work, !isQuiet, parsed.GetValue(traces), cancellation);
                        foreach (var result in made)
                            known[result.Case] = result;
                        if (parsed.GetValue(results) is { } kept)
                            File.WriteAllText(kept.FullName, JsonSerializer.Serialize(known.Values, CommandParts.Json));
                        // With a file of results all cases are told, with how they came out the last time.
                        var told = Report(document, parsed.GetValue(results) is null ? chosen : [.. CaseOrder.Of(document)], known);
                        var view = Coverage(document, told);
                        told = told with { Coverage = view };
                        Write(told, parsed.GetValue(junit), parsed.GetValue(report), cancellation);
                        var bad = made.Count(r => r.Outcome != CaseOutcome.Passed);
                        if (isQuiet)
                        {
                            var answer = new Answer(made.Count - bad, bad, made, parsed.GetValue(coverage) ? view : null);
                            Console.WriteLine(JsonSerializer.Serialize(answer, CommandParts.Json));
                        }
                        else
                        {
                            if (parsed.GetValue(coverage))
                                Tell(view);
                            Console.WriteLine($"{made.Count - bad} passed, {bad} not.");
                        }

                        return bad > 0 ? 1 : 0;
                    })
                )
        );
        return command;
    }

    static IReadOnlyList<(string Id, CaseNode Node)> Chosen(ModelDocument document, string[] suites, string[] names)
    {
        var all = CaseOrder.Of(document).ToList();
        if (all.Count == 0)
            throw new CommandException("The model has no test cases.");
        string GroupOf(CaseNode node) => node.Group is { } g ? document.CaseGroups.GetValueOrDefault(g)?.Name ?? "" : "";
        foreach (var suite in suites.Where(s => !all.Exists(c => GroupOf(c.Node) == s || c.Node.Tags.Contains(s))))
            throw new CommandException($"There is no group of cases, and no tag, called '{suite}'.");
        foreach (var name in names.Where(n => !all.Exists(c => c.Node.Name == n)))
            throw new CommandException($"There is no case called '{name}'.");
        return
        [
            .. all.Where(c => suites.Length == 0 || suites.Contains(GroupOf(c.Node)) || c.Node.Tags.Any(suites.Contains))
                .Where(c => names.Length == 0 || names.Contains(c.Node.Name)),
        ];
    }

    static Dictionary<string, CaseResult> Known(FileInfo? file)
    {
        if (file is null || !file.Exists)
            return [];
        try
        {
            return JsonSerializer.Deserialize<CaseResult[]>(File.ReadAllText(file.FullName), CommandParts.Json)!.ToDictionary(r => r.Case);
        }
        catch (Exception e) when (e is JsonException or ArgumentException or NullReferenceException)
        {
            throw new CommandException($"{file.Name} holds no results of cases.");
        }
    }

    static List<CaseResult> Run(
        ModelDocument document,
        IReadOnlyList<(string Id, CaseNode Node)> chosen,
        int jobs,
        bool tells,
        DirectoryInfo? traces,
        CancellationToken cancellation
    )
    {
        var run = new CaseRun(document, d => PartCatalog.Of(d), 0);
        var made = new CaseResult?[chosen.Count];
        var names = FileNames(chosen);
        var gate = new Lock();
        Parallel.For(
            0,
            chosen.Count,
            new ParallelOptions { MaxDegreeOfParallelism = Math.Max(1, jobs), CancellationToken = cancellation },
            i =>
            {
                made[i] = run.Of(
                    chosen[i].Id,
                    cancellation,
                    recorded: traces is null ? null : (_, session) => Save(session, traces, names[i], cancellation)
                );
                if (!tells)
                    return;
                lock (gate)
                {
                    Console.WriteLine($"{Word(made[i]!.Outcome), -8} {chosen[i].Node.Name} ({made[i]!.Seconds:0.00} s)");
                    foreach (var line in CaseReport.Failures(made[i]!))
                        Console.WriteLine($"         {line}");
                }
            }
        );
        return [.. made.Select(r => r!)];
    }

    /// <summary>Names of files, with a number behind those that come twice.</summary>
    static List<string> FileNames(IReadOnlyList<(string Id, CaseNode Node)> cases)
    {
        var names = new List<string>();
        foreach (var name in cases.Select(c => FileName.Of(c.Node.Name)))
        {
            var free = name;
            for (var n = 2; names.Contains(free, StringComparer.OrdinalIgnoreCase); n++)
                free = $"{name} {n}";
            names.Add(free);
        }

        return names;
    }

    static void Save(RunSession session, DirectoryInfo folder, string name, CancellationToken cancellation)
    {
        using var stream = File.Create(Path.Combine(folder.FullName, $"{name}.csv"));
        CsvRunTable.Write(CaseTraces.Of(session), stream, cancellation).GetAwaiter().GetResult();
    }

    static string Word(CaseOutcome outcome) => outcome == CaseOutcome.Broken ? "error" : outcome.ToString().ToLowerInvariant();

    static CaseReport Report(
        ModelDocument document,
        IReadOnlyList<(string Id, CaseNode Node)> cases,
        Dictionary<string, CaseResult> known
    ) =>
        new(
            document,
            null,
            [
                .. cases
                    .Select(c => (c.Id, c.Node, Result: known.GetValueOrDefault(c.Id)))
                    .Select(c => (c.Id, c.Node, c.Result, c.Result is null || CaseJobs.IsStale(document, c.Node, c.Result))),
            ],
            null,
            CaseReport.Program,
            DateTime.UtcNow
        )
        {
            Parts = RequirementParts.All(document, DocumentPreparation.Prepare(document, PartCatalog.Of(document))),
        };

    static CoverageView Coverage(ModelDocument document, CaseReport report)
    {
        List<CaseResult> fresh = [.. report.Results.Where(r => r is { IsStale: false, Result.Tally: not null }).Select(r => r.Result!)];
        var catalog = PartCatalog.Of(document);
        var prepared = DocumentPreparation.Prepare(document, catalog);
        return CoverageOf.View(document, catalog, fresh, prepared, document.Cases.Count - fresh.Count, 0);
    }

    static void Write(CaseReport told, FileInfo? junit, FileInfo? report, CancellationToken cancellation)
    {
        if (junit is not null)
            File.WriteAllText(junit.FullName, JUnitXml.Of(told));
        if (report is null)
            return;
        var html = ReportHtml.Of(told);
        if (report.Extension.Equals(".pdf", StringComparison.OrdinalIgnoreCase))
            File.WriteAllBytes(report.FullName, PdfPrinter.Print(html, cancellation));
        else
            File.WriteAllText(report.FullName, html);
    }

    static void Tell(CoverageView view)
    {
        foreach (var kind in view.Kinds)
            Console.WriteLine(
                $"{kind.Name, -12} {kind.Covered} of {kind.Total}{(kind.Justified > 0 ? $", {kind.Justified} justified" : "")}"
            );
        foreach (var point in view.Points)
        foreach (var side in point.Sides.Where(s => s is { Count: 0, Justification: null }))
            Console.WriteLine($"  {point.Name}: {side.Words}");
    }
}
