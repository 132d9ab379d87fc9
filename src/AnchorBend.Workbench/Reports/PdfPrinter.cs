using System.Diagnostics;
using AnchorBend.Modeling.Documents;

namespace AnchorBend.Workbench.Reports;

/// <summary>Pages as PDF by the print function of a browser that is installed, without a network.</summary>
public static class PdfPrinter
{
    static readonly string[] Browsers = ["chromium", "chromium-browser", "google-chrome", "chrome", "msedge"];

    static readonly TimeSpan Most = TimeSpan.FromSeconds(60);

    /// <exception cref="DocumentException">There is no browser, or it does not print.</exception>
    /// <exception cref="OperationCanceledException">Nobody wants it any more.</exception>
    public static byte[] Print(string html, CancellationToken wanted)
    {
        var browser = Installed()
            ?? throw new DocumentException(
                "No browser that prints PDF is installed here: install Chromium, or open the HTML report and print it from your own."
            );
        var folder = Directory.CreateTempSubdirectory("anchor-bend-report-");
        try
        {
            var (page, pdf) = (Path.Combine(folder.FullName, "report.html"), Path.Combine(folder.FullName, "report.pdf"));
            File.WriteAllText(page, html);
            var start = new ProcessStartInfo(browser) { RedirectStandardError = true, RedirectStandardOutput = true };
            foreach (
                var argument in (string[])
                    [
                        "--headless=new",
                        "--no-sandbox",
                        "--disable-gpu",
                        "--disable-quic",
                        "--no-first-run",
                        "--disable-background-networking",
                        "--disable-component-update",
                        "--disable-sync",
                        "--no-pdf-header-footer",
                        $"--user-data-dir={Path.Combine(folder.FullName, "profile")}",
                        $"--print-to-pdf={pdf}",
                        new Uri(page).AbsoluteUri,
                    ]
            )
                start.ArgumentList.Add(argument);
            using var process = Process.Start(start)!;
            // What it says must be read, or it waits for a reader.
            var said = process.StandardError.ReadToEndAsync(wanted);
            _ = process.StandardOutput.ReadToEndAsync(wanted);
            using var limit = CancellationTokenSource.CreateLinkedTokenSource(wanted);
            limit.CancelAfter(Most);
            try
            {
                process.WaitForExitAsync(limit.Token).GetAwaiter().GetResult();
            }
            catch (OperationCanceledException)
            {
                process.Kill(true);
                wanted.ThrowIfCancellationRequested();
            }

            return File.Exists(pdf)
                ? File.ReadAllBytes(pdf)
                : throw new DocumentException($"{Path.GetFileName(browser)} made no PDF. Open the HTML report and print it instead.");
        }
        finally
        {
            try
            {
                folder.Delete(true);
            }
            catch (IOException)
            {
                // The browser may still hold a file of its profile; the folder is a temporary one.
            }
        }
    }

    static string? Installed() =>
        (Environment.GetEnvironmentVariable("PATH") ?? "")
            .Split(Path.PathSeparator, StringSplitOptions.RemoveEmptyEntries)
            .SelectMany(folder => Browsers.Select(b => Path.Combine(folder, b)))
            .FirstOrDefault(File.Exists);
}
