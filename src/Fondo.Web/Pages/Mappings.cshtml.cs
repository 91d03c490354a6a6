using System.Text;
using Fondo.Core.Amounts;
using Fondo.Core.SetUp;
using Fondo.Files.Mapping;
using Fondo.Files.Text;
using Fondo.Store.Mappings;
using Fondo.Store.SetUp;
using Fondo.Web.Hosting;
using Fondo.Web.Mappings;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Fondo.Web.Pages;

/// <summary>How files of other shapes are read: the mappings that hold, and the making of one from an example.</summary>
[Authorize(Policies.Supervise)]
[BodyLimit(Examples.Largest + (1 << 20))]
[RequestFormLimits(MemoryBufferThreshold = Examples.Largest + (1 << 20))]
public sealed class MappingsModel(MappingBook book, SetupBook setups, Examples examples) : PageModel
{
    private const int MostRowsShown = 40;

    public IReadOnlyList<KeptMapping> Kept { get; private set; } = [];

    /// <summary>The one that is being made; null while none is.</summary>
    public Mapping? Making { get; private set; }

    public Guid? Shown { get; private set; }

    public Example? Example { get; private set; }

    public IReadOnlyList<ShownColumn> Columns { get; private set; } = [];

    public IReadOnlyList<ShownWord> Words { get; private set; } = [];

    /// <summary>What the shown file becomes, all of it; null without one.</summary>
    public MappedFile? Tried { get; private set; }

    /// <summary>The rows that are worth looking at: what is not taken first.</summary>
    public IEnumerable<MappedFate> RowsShown => (Tried?.Rows ?? []).OrderByDescending(r => r.Fate == RowFate.Refused)
        .ThenByDescending(r => r.Fate != RowFate.Taken).ThenBy(r => r.Line).Take(MostRowsShown);

    /// <summary>What is wrong with the file as a whole: none of its rows says it.</summary>
    public IEnumerable<Finding> OfTheFile => Tried is null ? []
        : Tried.Findings.Where(f => !Tried.Rows.Any(r => r.Fate == RowFate.Refused && r.Line == f.Line));

    public IReadOnlyList<(string Field, string Sentence)> Objections { get; private set; } = [];

    public string? Objection { get; private set; }

    /// <summary>Fields for which two columns are chosen, while one still looks.</summary>
    public IReadOnlyList<string> Doubled { get; private set; } = [];

    [TempData]
    public string? Notice { get; set; }

    private Person MySelf => Me.From(User);

    public async Task OnGet(string? name, Guid? example)
    {
        (Shown, Example) = (example, examples.Find(example, MySelf.Id.Value));
        var setup = (await setups.Now())?.Setup;
        Objection = setup is null && Example is not null ? "Save the set-up first: a mapping names its registers and terminals." : null;
        var making = name is not null ? await book.Find(name)
            : Example is { } shown && setup is not null ? MappingGuess.Of(shown.Name, shown.Bytes, setup)
            : null;
        await Load(making);
    }

    public async Task<IActionResult> OnGetExport(string name) =>
        await book.Find(name) is { } mapping
            ? File(Encoding.UTF8.GetBytes(MappingText.Write(mapping)), "application/json", $"{mapping.Name}.mapping.json")
            : NotFound();

    /// <summary>Shows a file, to begin a mapping with.</summary>
    [Does(ActKind.SaveMapping)]
    public async Task<IActionResult> OnPostExample(IFormFile? file)
    {
        if (await Keep(file) is { } objection)
        {
            Objection = objection;
            await Load(null);
            return Page();
        }

        return Redirect($"/mappings?example={Shown}");
    }

    /// <summary>Looks at the mapping as it is typed; a file that is chosen takes the place of the one before.</summary>
    [Does(ActKind.SaveMapping)]
    public async Task<IActionResult> OnPostLook(Guid? example, IFormFile? file)
    {
        (Shown, Example) = (example, examples.Find(example, MySelf.Id.Value));
        Objection = file is null ? null : await Keep(file);
        Doubled = [.. MappingForm.Doubled(Request.Form).Select(d => d.Sentence)];
        await Load(MappingForm.Read(Request.Form));
        return Page();
    }

    [Does(ActKind.SaveMapping)]
    public async Task<IActionResult> OnPostSave(Guid? example)
    {
        (Shown, Example) = (example, examples.Find(example, MySelf.Id.Value));
        var mapping = MappingForm.Read(Request.Form);
        Objections = [.. MappingText.Objections(mapping), .. MappingForm.Doubled(Request.Form)];
        if (Objections.Count == 0)
        {
            var saved = await book.Save(mapping, MySelf);
            if (saved.IsDone)
            {
                Notice = $"Saved. {mapping.Name} reads files named {mapping.Files} from now on.";
                return Redirect("/mappings");
            }

            Objection = saved.Objection;
        }

        await Load(mapping);
        return Page();
    }

    [Does(ActKind.SaveMapping)]
    public async Task<IActionResult> OnPostImport(IFormFile? file)
    {
        if (file is null || file.Length > 1 << 20)
        {
            Objection = file is null ? "Choose the file first." : "A mapping can be at most 1 MB.";
        }
        else
        {
            using var text = new StreamReader(file.OpenReadStream());
            var (mapping, findings) = MappingText.Read(file.FileName, await text.ReadToEndAsync());
            var saved = mapping is null ? Fondo.Store.Outcome.Refused(findings[0].ToString()) : await book.Save(mapping, MySelf);
            if (saved.IsDone)
            {
                Notice = $"{mapping!.Name} was imported. It reads {mapping.Files}.";
                return Redirect("/mappings");
            }

            Objection = saved.Objection;
        }

        await Load(null);
        return Page();
    }

    [Does(ActKind.SaveMapping)]
    public async Task<IActionResult> OnPostEnd(string name)
    {
        await book.End(name, MySelf);
        Notice = $"{name} no longer reads files. What it imported stays.";
        return Redirect("/mappings");
    }

    public string? ObjectionAt(string field) => Objections.FirstOrDefault(o => o.Field == field).Sentence;

    private async Task<string?> Keep(IFormFile? file)
    {
        if (file is null || file.Length == 0)
        {
            return "Choose a file that is not empty.";
        }

        if (file.Length > Examples.Largest)
        {
            return "An example can be at most 32 MB.";
        }

        using var bytes = new MemoryStream();
        await file.CopyToAsync(bytes);
        var name = Path.GetFileName(file.FileName);
        if (await MayHoldCardNumber(name, bytes.ToArray()))
        {
            return "This file contains a full card number. Only the last four digits are allowed. Nothing was saved.";
        }

        Shown = examples.Keep(MySelf.Id.Value, name, bytes.ToArray());
        Example = examples.Find(Shown, MySelf.Id.Value);
        return null;
    }

    /// <summary>Numbers in a column of articles, tickets or terminals are asked about: what is shown stays in memory.</summary>
    private async Task<bool> MayHoldCardNumber(string name, byte[] bytes)
    {
        if (!Spreadsheet.HoldsCardNumber(bytes))
        {
            return false;
        }

        var setup = (await setups.Now())?.Setup;
        return setup is null
            || LongNumbers.HidesCardNumber(bytes, MappingGuess.Of(name, bytes, setup) with { LongNumbers = LongNumbers.Fields });
    }

    /// <summary>Of the store, for the page to offer.</summary>
    public string StoreZone { get; private set; } = "";

    /// <summary>By field, what its words may mean: the word to type, and what it stands for.</summary>
    public IReadOnlyDictionary<string, IReadOnlyList<(string Word, string Says)>> MeaningsOf { get; private set; } =
        new Dictionary<string, IReadOnlyList<(string, string)>>();

    public Currency StoreCurrency { get; private set; } = Currency.Of("USD");

    private async Task Load(Mapping? making)
    {
        Kept = await book.All();
        Making = making;
        if (making is null)
        {
            return;
        }

        var setup = (await setups.Now())?.Setup;
        (StoreZone, StoreCurrency) = (setup?.TimeZone.Id ?? "", setup?.Currency ?? StoreCurrency);
        MeaningsOf = setup is null ? MeaningsOf : MappingForm.Meanings(making.Kind, setup);
        (Columns, Words) = (MappingForm.Columns(making, Example), MappingForm.Words(making, Example, setup));
        Tried = Example is { } shown && setup is not null ? MappedFile.Of(shown.Name, shown.Bytes, making, setup) : null;
    }
}
