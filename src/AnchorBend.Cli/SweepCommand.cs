using System.CommandLine;
using System.CommandLine.Parsing;
using AnchorBend.Exploration.Designs;
using AnchorBend.Workbench.Studies;
using AnchorBend.Workbench.Studies.Engines;

namespace AnchorBend.Cli;

/// <summary><c>anchor-bend sweep</c>: runs a model over values of its parameters and writes a table of measures; and
/// <c>anchor-bend worker</c>, which runs a part of one on the node of a cluster.</summary>
sealed class SweepCommand
{
    static readonly Dictionary<string, DesignKind> Designs = new()
    {
        ["grid"] = DesignKind.Grid,
        ["one"] = DesignKind.OneAtATime,
        ["random"] = DesignKind.Random,
        ["lhs"] = DesignKind.LatinHypercube,
        ["sobol"] = DesignKind.Sobol,
    };

    /// <summary>What says where and how fast, and not what.</summary>
    static readonly string[] Aside = ["--csv", "--parquet", "--jobs", "--resume", "--engine", "--chunk"];

    /// <summary>Runs of one task, where nobody says: a minute or so of runs of a second.</summary>
    const int UsualChunk = 50;

    readonly StudyArguments arguments = new();
    readonly Option<string> design = new("--design")
    {
        Description = "grid: all combinations; one: one at a time; random, lhs (Latin hypercube), sobol: drawn",
        DefaultValueFactory = _ => "grid",
    };
    readonly Option<string?> study = new("--study")
    {
        Description = "The study of this name in the document, with its factors, design and measures, instead of --vary",
    };
    readonly Option<int> runs = new("--runs") { Description = "How many runs are drawn", DefaultValueFactory = _ => 100 };
    readonly Option<FileInfo?> csv = new("--csv") { Description = "File to write; '-' or nothing writes to standard output" };
    readonly Option<FileInfo?> parquet = new("--parquet") { Description = "The table as an Apache Parquet file" };
    readonly Option<DirectoryInfo?> resume = new("--resume")
    {
        Description = "Folder that results are kept in as they come; the same command goes on there after a break",
    };
    readonly Option<string> engine = new("--engine")
    {
        Description = "local: this machine; slurm: a cluster, through the folder of --resume, which all its nodes see",
        DefaultValueFactory = _ => "local",
    };
    readonly Option<int> chunk = new("--chunk")
    {
        Description = "How many runs make one task of a cluster",
        DefaultValueFactory = _ => UsualChunk,
    };

    readonly Command command;

    SweepCommand()
    {
        design.AcceptOnlyFromAmong([.. Designs.Keys]);
        engine.AcceptOnlyFromAmong("local", "slurm");
        command = new Command("sweep", "Run a model over values of its parameters and write a table of measures")
        {
            study,
            design,
            runs,
            csv,
            parquet,
            resume,
            engine,
            chunk,
        };
        arguments.Vary.Required = false;
        arguments.AddTo(command);
        command.SetAction((parsed, cancellation) => StudyArguments.Guarded(() => Sweep(parsed, cancellation)));
    }

    public static Command Create() => new SweepCommand().command;

    /// <summary>The command that runs a chunk of a package.</summary>
    public static Command Worker()
    {
        var folder = new Argument<DirectoryInfo>("FOLDER")
        {
            Description = "With the package of a study, as 'sweep --engine slurm' makes it",
        };
        var number = new Argument<int>("CHUNK") { Description = "The number of the task, from 0" };
        var worker = new Command("worker", "Run a part of a study on the node of a cluster") { folder, number };
        worker.SetAction(
            (parsed, cancellation) =>
                StudyArguments.Guarded(() => RunChunk(parsed.GetValue(folder)!.FullName, parsed.GetValue(number), cancellation))
        );
        return worker;
    }

    /// <summary>What is run.</summary>
    /// <param name="Judged">Names of the requirements whose margins stand in the table.</param>
    sealed record Work(StudyRun Run, IReadOnlyList<StudyMeasure> Measures, IReadOnlyList<string> Judged, int Jobs);

    Work Asked(ParseResult parsed)
    {
        if (parsed.GetValue(study) is { } name)
            return OfDocument(parsed, name);
        if (parsed.GetValue(arguments.Vary) is not { Length: > 0 })
            throw new CommandException("Say what varies, with --vary, or name a study of the document with --study.");
        var asked = arguments.Read(parsed, true);
        var table = StudyTable.Of(asked.Factors, Designs[parsed.GetValue(design)!], parsed.GetValue(runs), parsed.GetValue(arguments.Seed));
        return new Work(asked.Of(table), asked.Measures, [], asked.Jobs);
    }

    Work OfDocument(ParseResult parsed, string name)
    {
        var model = ModelFile.Read(parsed.GetValue(arguments.File)!);
        if (model.Document is not { } document)
            throw new CommandException("A text has no studies; --study needs a document.");
        if (parsed.GetValue(arguments.Vary) is { Length: > 0 })
            throw new CommandException("A study of the document says itself what varies: take --study or --vary.");
        var node = document.Studies.FirstOrDefault(s => s.Value.Name == name || s.Key == name).Value;
        if (node is null)
            throw new CommandException(
                $"The document has no study '{name}'. It has: {string.Join(", ", document.Studies.Values.Select(s => s.Name))}."
            );
        if (node.Search is not null)
            throw new CommandException($"'{name}' is a search, whose rows follow from one another: use optimise.");
        var setup = StudySetup.Of(model, node);
        return new Work(
            setup.Run.Without(),
            setup.Measures,
            [.. document.Requirements.Values.Select(r => r.Name)],
            Math.Max(1, parsed.GetValue(arguments.Jobs) ?? Environment.ProcessorCount)
        );
    }

    int Sweep(ParseResult parsed, CancellationToken cancellation)
    {
        var given = parsed.GetValue(arguments.File)!;
        var asked = Asked(parsed);
        var table = asked.Run.Table;
        var results = new StudyResult?[table.Rows.Count];
        var text = File.ReadAllText(given.FullName);
        var isHere = parsed.GetValue(engine) == "local";
        using var journal = isHere ? Journal(parsed.GetValue(resume), text + string.Join('\n', Told(parsed, given))) : null;
        foreach (var (row, earlier) in journal?.Earlier ?? new Dictionary<int, StudyResult>())
            if (row < results.Length && earlier.Problem is null)
                results[row] = earlier;
        IStudyEngine on = isHere ? new LocalEngine(asked.Run, asked.Jobs) : Cluster(parsed, given, text, table);
        on.Run(
            Enumerable.Range(0, results.Length).Where(i => results[i] is null).ToList(),
            result =>
            {
                results[result.Index] = result;
                journal?.Add(result);
            },
            cancellation
        );
        var written = StudyFile.Of(table.Factors, asked.Measures, table.Rows, [.. results.OfType<StudyResult>()], asked.Judged);
        written.Write(parsed.GetValue(csv), parsed.GetValue(parquet), cancellation);
        return StudyFile.Failed(results);
    }

    SlurmEngine Cluster(ParseResult parsed, FileInfo given, string text, StudyTable table)
    {
        if (parsed.GetValue(resume) is not { } shared)
            throw new CommandException("--engine slurm needs --resume with a folder that all nodes of the cluster see.");
        if (parsed.GetValue(chunk) < 1)
            throw new CommandException("A task has at least one run: --chunk 1 or more.");
        var told = Told(parsed, given);
        var package = new StudyPackage(
            "model" + given.Extension,
            told,
            table.Rows.Count,
            parsed.GetValue(chunk),
            StudyPackage.KeyOf(text, told, table)
        );
        package.Write(shared.FullName, text);
        return new SlurmEngine(package, shared.FullName, [.. Self(), "worker", shared.FullName], words => Console.Error.WriteLine(words));
    }

    /// <summary>This program, as a node calls it.</summary>
    static string[] Self()
    {
        var program = Environment.ProcessPath!;
        return Path.GetFileNameWithoutExtension(program) == "dotnet"
            ? [program, Path.Combine(AppContext.BaseDirectory, "anchor-bend.dll")]
            : [program];
    }

    /// <summary>Runs the rows of a task; where its results are there already, nothing is done.</summary>
    static int RunChunk(string folder, int number, CancellationToken cancellation)
    {
        var package = StudyPackage.Read(folder);
        if (number < 0 || number >= package.Chunks)
            throw new CommandException($"The study has the tasks 0 to {package.Chunks - 1}, not {number}.");
        if (StudyPackage.Results(folder, number) is not null)
            return 0;
        var sweep = new SweepCommand();
        var model = Path.Combine(folder, package.Model);
        var run = sweep.Asked(sweep.command.Parse([model, .. package.Arguments])).Run;
        if (StudyPackage.KeyOf(File.ReadAllText(model), package.Arguments, run.Table) != package.Key)
            throw new CommandException(
                "This node reads the study otherwise than the machine that submitted it: take the same version on both."
            );
        var results = package.RowsOf(number).Select(row => run.Of(row, run.Table.Rows[row], cancellation)).ToList();
        StudyPackage.Keep(folder, number, results);
        return 0;
    }

    /// <summary>What was asked for, without the model's file and without where and how fast.</summary>
    static List<string> Told(ParseResult parsed, FileInfo given)
    {
        var told = new List<string>();
        var tokens = parsed.Tokens.Select(t => t.Value).ToList();
        for (var i = 0; i < tokens.Count; i++)
            if (Aside.Contains(tokens[i]))
                i++;
            else if (tokens[i] != given.ToString() && tokens[i] != "sweep")
                told.Add(tokens[i]);
        return told;
    }

    static StudyJournal? Journal(DirectoryInfo? folder, string study)
    {
        if (folder is null)
            return null;
        folder.Create();
        return new StudyJournal(Path.Combine(folder.FullName, "results.jsonl"), study);
    }
}
