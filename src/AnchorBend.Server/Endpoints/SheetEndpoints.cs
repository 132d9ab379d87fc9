using AnchorBend.Interchange.Sheets;
using AnchorBend.Workbench.Models;
using AnchorBend.Workbench.Sheets;

namespace AnchorBend.Server.Endpoints;

/// <summary>A table from a spreadsheet: a file in base 64, or cells as they are copied from one.</summary>
/// <param name="Text">Rows by lines, cells by tabs, commas or semicolons.</param>
public sealed record TableRequest(string? File, string? Text)
{
    /// <exception cref="RequestException">There is neither, or the file is not in base 64.</exception>
    public byte[] Bytes()
    {
        try
        {
            return File is { } packed
                ? Convert.FromBase64String(packed)
                : System.Text.Encoding.UTF8.GetBytes(Requests.Needed(Text!, "text"));
        }
        catch (FormatException)
        {
            throw new RequestException("'file' is not in base 64.");
        }
    }
}

/// <summary>Sheets over HTTP: as files, and what files would change.</summary>
static class SheetEndpoints
{
    const string Workbook = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet";

    public static void Map(RouteGroupBuilder api)
    {
        api.MapGet("/models/{id}/sheets/{sheet}/file", Export)
            .WithName("exportSheet")
            .Produces<byte[]>(contentType: "application/octet-stream")
            .ProducesProblem(404);
        api.MapPost("/models/{id}/sheets/{sheet}/comparison", Compare).WithName("compareSheet").ProducesProblem(404).ProducesProblem(422);
        api.MapGet("/models/{id}/sheets/{sheet}/uses", (string id, string sheet, SheetWork sheets) => sheets.Uses(id, sheet))
            .WithName("getSheetUses")
            .ProducesProblem(404);
    }

    static IResult Export(string id, string sheet, string? form, SheetWork sheets)
    {
        var kind = form switch
        {
            null or "xlsx" => SpreadsheetForm.Workbook,
            "csv" => SpreadsheetForm.Text,
            _ => throw new RequestException("'form' is xlsx or csv."),
        };
        var (name, file) = sheets.Export(id, sheet, kind);
        return TypedResults.File(file, kind == SpreadsheetForm.Workbook ? Workbook : "text/csv", $"{name}.{form ?? "xlsx"}");
    }

    static SheetImportView Compare(string id, string sheet, TableRequest request, SheetWork sheets, CancellationToken wanted) =>
        sheets.Compare(id, sheet, request.Bytes(), wanted);
}
