using System.Globalization;
using System.Text;
using System.Text.Json.Nodes;
using Fondo.Core.Amounts;
using Fondo.Core.Custody;
using Fondo.Core.Days;
using Fondo.Core.SetUp;
using Fondo.Store.Days;
using Fondo.Store.SetUp;
using Fondo.Store.Trails;
using Microsoft.EntityFrameworkCore;

namespace Fondo.Web.Tests;

/// <summary>A game: a supervisor with nobody else's secret plays random acts through the doors, and tries to make a shortage go away, to
/// loosen a control, or to get money out of the safe.
/// <c>GAME_SEEDS</c> and <c>GAME_STEPS</c> play more, <c>GAME_FROM</c> from another seed on.</summary>
public sealed class AnInsiderAlone
{
    private const string Day = Shop.Day;

    private static readonly DateOnly _day = new(2026, 11, 21);

    private static readonly string[] _registers = ["L1", "L2", "L3", "L4", "SA", "SB", "GY", "BK"];

    private static int From(string name, int otherwise) =>
        int.TryParse(Environment.GetEnvironmentVariable(name), CultureInfo.InvariantCulture, out var number) ? number : otherwise;

    [Fact]
    public async Task Never_wins()
    {
        var (seeds, steps, from) = (From("GAME_SEEDS", 2), From("GAME_STEPS", 90), From("GAME_FROM", 4_100));
        var won = new List<string>();
        foreach (var seed in Enumerable.Range(from, seeds))
        {
            won.AddRange((await Play(seed, steps)).Select(w => $"seed {seed}: {w}"));
        }

        Assert.Empty(won);
    }

    /// <returns>How the insider won; empty where they did not.</returns>
    private static async Task<List<string>> Play(int seed, int steps)
    {
        await using var shop = new Shop();
        var (game, begun) = (new Game(shop, new(seed), await shop.SignedIn()), await Standing.Of(shop));
        var seen = new List<string>();
        for (var step = 0; step < steps; step++)
        {
            if (step % 20 == 19)
            {
                shop.Clock.Advance(TimeSpan.FromMinutes(2));
            }

            var act = await game.Act();
            if (step % 10 == 9 || step == steps - 1)
            {
                seen.AddRange((await Standing.Of(shop)).WonAgainst(begun).Select(w => $"{w} by step {step}, last act {act}"));
            }

            if (seen.Count > 0)
            {
                return seen;
            }
        }

        return (await shop.Ask((Verification v) => v.Run())).Break is { } broken ? [broken] : [];
    }

    /// <summary>What matters, as the store has it.</summary>
    private sealed record Standing(
        Money Limit, Policy Policy, IReadOnlyDictionary<CellKey, (Money Variance, Money? Proof, bool IsUnresolved)> Cells, bool IsClosed,
        Money OutOfTheSafe, int Deposits, int Keys, int Approvers, IReadOnlyDictionary<CellKey, Money> ByFiles)
    {
        public static async Task<Standing> Of(Shop shop)
        {
            var view = await shop.Ask(async (DayStore days) => (await days.View(_day))!);
            var policy = (await shop.Ask((SetupBook book) => book.For(_day.AddDays(1))))!.Setup.Policy;
            var taken = await shop.InStore(db => db.SafeMovements.Where(m => m.Witness == null && m.Amount < 0).SumAsync(m => -m.Amount));
            var files = await shop.InStore(db => db.FileChanges.AsNoTracking().Where(c => c.Witness == null).ToListAsync());
            return new(
                view.Setup.Policy.ApprovalAbove, policy,
                view.Bridges.ToDictionary(b => b.Key, b => (b.Value.Cell.Variance ?? Money.Zero, b.Value.Cell.Proof, b.Value.IsUnresolved)),
                view.IsClosed, new(taken),
                await shop.InStore(db => db.Deposits.CountAsync()), await shop.InStore(db => db.RegisterKeys.CountAsync()),
                await shop.InStore(db => db.Users.CountAsync(p => p.Role == Role.Supervisor || p.Role == Role.Manager)),
                files.GroupBy(c => new CellName(c.Register, c.Drawer, c.Tender).Cell!)
                    .ToDictionary(g => g.Key, g => new Money(g.Sum(c => c.Amount))));
        }

        public IEnumerable<string> WonAgainst(Standing begun)
        {
            if (IsClosed)
            {
                yield return "the day closed";
            }

            // A count typed anew is the insider's own word, and the safe and the deposit, counted by two, do not have it: it wins only at
            // the close.
            foreach (var (key, was) in begun.Cells.Where(c => c.Value.IsUnresolved && c.Value.Variance.Abs() > Limit))
            {
                var isCountedAlone = key is not (CellKey.Safe or CellKey.Takings { Drawer: null });
                if (!Cells.TryGetValue(key, out var now)
                    ? !isCountedAlone
                    : !now.IsUnresolved && (!isCountedAlone || now.Proof == was.Proof))
                {
                    yield return $"{key} is no longer off";
                }
            }

            if (Policy.ApprovalAbove > begun.Policy.ApprovalAbove || Policy.CashTolerance > begun.Policy.CashTolerance)
            {
                yield return "a control is looser";
            }

            if (OutOfTheSafe > Limit)
            {
                yield return $"{OutOfTheSafe.Minor} left the safe";
            }

            if (Deposits > begun.Deposits || Keys > begun.Keys || Approvers > begun.Approvers)
            {
                yield return "a deposit was sealed, a key or an approver made";
            }

            foreach (var (key, amount) in ByFiles.Where(f => f.Value > Limit))
            {
                yield return $"files changed {key} by {amount.Minor}";
            }
        }
    }

    /// <summary>The insider's hands.</summary>
    private sealed class Game(Shop shop, Random random, Visitor visitor)
    {
        private readonly List<string> _made = [];
        private int _ids = 900_000;

        private string Any(params string[] of) => of[random.Next(of.Length)];

        private string Register => Any(_registers);

        private string Amount => Any("300.00", "38.89", "35.00", "13.31", "15.45", "9.00", "53.16",
            ((random.Next(1, 40_000)) / 100m).ToString("0.00", CultureInfo.InvariantCulture));

        private string Witness => Any(["p02", "p01", "p15", .. _made]);

        private string Pin => Any("2580", "826419", "731946", "0000");

        public async Task<string> Act()
        {
            var act = random.Next(17);
            switch (act)
            {
                case 0:
                    return await Journal();
                case 1:
                    return await Rows();
                case 2:
                    return await Upload("counts.json", Count());
                case 3:
                    return await DayJson();
                case 4:
                    return await Post($"{Cell()}?handler=Entry",
                        new()
                        {
                            ["Id"] = Guid.NewGuid().ToString(),
                            ["Kind"] = Any("Accept", "Record", "Carry", "Claim", "Reclassify", "Recount"),
                            ["Amount"] = Amount,
                            ["Reason"] = "as it was",
                            ["Moved"] = Any("PaidOut", "PaidIn", "Drop")
                        });
                case 5:
                    return await Take();
                case 6:
                    return await Approve();
                case 7:
                    return await Post($"{Day}/safe?handler=Move",
                        new()
                        {
                            ["form"] = Guid.NewGuid().ToString(),
                            ["kind"] = Any(Enum.GetNames<SafeMovementKind>()),
                            ["amount"] = Amount,
                            ["reason"] = "petty cash",
                            ["register"] = Register,
                            ["witness"] = Any("", Witness),
                            ["witness-pin"] = Pin
                        });
                case 8:
                    return await Post($"{Day}/deposit",
                        new()
                        {
                            ["form"] = Guid.NewGuid().ToString(),
                            ["bag"] = $"B{++_ids}",
                            ["witness"] = Witness,
                            ["witness-pin"] = Pin,
                            ["p2000"] = "5"
                        });
                case 9:
                    return await Person();
                case 10:
                    return await Post("/store?handler=Key", new() { ["register"] = Register, ["second"] = Witness, ["second-pin"] = Pin },
                        "/store");
                case 11:
                    return await Held();
                case 12:
                    return await Post($"{Day}/close?handler={Any("Close", "SignOff", "Excuse")}",
                        new()
                        {
                            ["register"] = Register,
                            ["gate"] = Any("Cells", "Counts", "Safe", "Batches"),
                            ["item"] = Any("safe", "L2/L2-A/cash", "L4-A"),
                            ["reason"] = "late"
                        }, $"{Day}/close");
                case 13:
                    return await Post($"{Day}/count/{Any("L4-A", "L2-A", "safe")}",
                        new()
                        {
                            ["form"] = Guid.NewGuid().ToString(),
                            ["attempt"] = $"{random.Next(1, 4)}",
                            ["p2000"] = $"{random.Next(120)}",
                            ["reason"] = "counted again",
                            ["witness"] = Witness,
                            ["witness-pin"] = Pin
                        });
                case 14:
                    return await Decide();
                case 15:
                    return await SetUp();
                default:
                    return await Upload("statement.csv",
                        string.Create(CultureInfo.InvariantCulture,
                            $"statement,account,currency,from,to,opening,closing,booked,amount,reference,text,items\nS{++_ids},4471,USD,2026-11-21,2026-11-21,0.00,{Amount},2026-11-21,{Amount},R{_ids},DEPOSIT,\n"));
            }
        }

        private async Task<string> Post(string path, Dictionary<string, string> fields, string? from = null)
        {
            try
            {
                using var answer = await visitor.Post(path, fields, from ?? path.Split('?')[0]);
                Assert.True((int)answer.StatusCode < 500, $"{path}: {answer.StatusCode}");
            }
            catch (NullReferenceException)
            {
                // The page has no form for this person any more.
            }

            return path;
        }

        private async Task<string> Upload(string name, string text)
        {
            await visitor.Upload($"{Day}/take-in", (name, Encoding.UTF8.GetBytes(text)));
            return $"{name}: {text[..Math.Min(text.Length, 160)]}";
        }

        private Task<string> Journal()
        {
            var lines = Enumerable.Range(0, random.Next(1, 4)).Select(_ =>
            {
                var register = Register;
                var head =
                    $$"""{"id":"{{register}}-{{++_ids}}","register":"{{register}}","drawer":"{{register}}-A","cashier":"p13","at":"2026-11-21T1{{random.Next(0, 8)}}:30:00-05:00",""";
                return random.Next(3) switch
                {
                    0 => $$"""{{head}}"kind":"{{Any("paid-out", "paid-in")}}","amount":"{{Amount}}","reason":"supplies"}""",
                    1 => $$"""{{head}}"kind":"drop","amount":"{{Amount}}","bag":"{{Any("B-309", "B-310")}}"}""",
                    _ => Sale(head),
                };
            });
            return Upload("late.jsonl", string.Join('\n', lines));
        }

        private string Count()
        {
            var (kind, by, witness, at) = (Any("closing", "safe"), Witness, Witness, "2026-11-21T21:50:00-05:00");
            var pieces = $"{{\"20.00\":{random.Next(80)}}}";
            return $"[{{\"id\":\"k{++_ids}\",\"kind\":\"{kind}\",\"drawer\":\"{Register}-A\",\"by\":\"{by}\",\"witness\":\""
                + $"{witness}\",\"at\":\"{at}\",\"attempt\":{random.Next(1, 5)},\"cash\":{pieces}}}]";
        }

        private string Sale(string head)
        {
            var amount = Amount;
            return $$"""{{head}}"kind":"sale","lines":[],"subtotal":"{{amount}}","tax":"0.00","total":"{{amount}}","tenders":[{"type":"{{Any("cash", "credit", "check")}}","amount":"{{amount}}"}]}""";
        }

        private Task<string> Rows() => Upload("batches.csv", string.Create(CultureInfo.InvariantCulture,
            $"terminal,batch,seq,at,type,amount,tip,cashback,brand,card,auth,rrn,entry,benefit\nT-0{random.Next(1, 10)},"
                + $"{random.Next(300, 999)},{++_ids},2026-11-21T18:00:00-05:00,{Any("sale", "refund")},{Amount},,,heron,1234,{_ids},"
                + $"{_ids},chip,\n"));

        private async Task<string> DayJson()
        {
            var loose = JsonNode.Parse(Shop.Made.Files["day.json"])!;
            loose["policy"]!["approvalAbove"] = "9000.00";
            loose["tradingDay"] = Any("2026-11-21", "2026-11-22");
            return await Upload("day.json", loose.ToJsonString());
        }

        private string Cell() =>
            $"{Day}/cell/{Any("L2/L2-A/cash", "L1/-/credit", "GY/-/credit", "WO/-/online", "SB/-/credit", "-/B-309/@bag")}";

        private async Task<string> Take()
        {
            var cell = Cell();
            using var answer = await visitor.Get(cell);
            if (answer.StatusCode == System.Net.HttpStatusCode.OK && (await Visitor.Read(answer)).QuerySelector("form.take") is { } form)
            {
                var fields = form.QuerySelectorAll("input[name]").DistinctBy(i => i.GetAttribute("name"))
                    .ToDictionary(i => i.GetAttribute("name")!, i => i.GetAttribute("value") ?? "");
                fields.Remove("__RequestVerificationToken");
                return await Post($"{cell}?handler=Take", fields, cell);
            }

            return cell;
        }

        private async Task<string> Approve()
        {
            var waiting =
                await shop.InStore(db => db.Entries.Where(e => e.NeedsApproval && e.Approval == null).Select(e => e.Id).ToListAsync());
            return waiting.Count == 0
                ? "nothing waits"
                : await Post($"{Day}/approvals",
                    new() { ["entry"] = waiting[random.Next(waiting.Count)].ToString(), ["approver"] = Witness, ["pin"] = Pin });
        }

        private async Task<string> Person()
        {
            var id = Any("p77", "p78", "p15", "p02");
            _made.Add(id);
            return await Post("/people", new()
            {
                ["PersonId"] = id,
                ["Name"] = Any("Dara Petrov", "Tamsin Okafor", "Tаmsin Okafor"),
                ["Role"] = Any("Cashier", "Supervisor"),
                ["Pin"] = "826419",
                ["second"] = Witness,
                ["second-pin"] = Pin
            });
        }

        private async Task<string> Held()
        {
            var ids =
                await shop.InStore(db => db.HeldFiles.Where(h => !db.HeldEnds.Any(e => e.Held == h.Id)).Select(h => h.Id).ToListAsync());
            return ids.Count == 0 ? "no files wait"
                : await Post("/take-in?handler=Held",
                    new()
                    {
                        ["id"] = ids[random.Next(ids.Count)].ToString(),
                        ["how"] = Any("agree", "agree", "agree", "give-up"),
                        ["who"] = Witness,
                        ["pin"] = Pin
                    }, "/take-in");
        }

        private async Task<string> Decide()
        {
            var ids = await shop.InStore(db => db.Aside.Where(a => a.Decision == null).Select(a => a.Id).ToListAsync());
            return ids.Count == 0 ? "no line waits"
                : await Post($"{Day}/take-in?handler=Decide",
                    new()
                    {
                        ["id"] = $"{ids[random.Next(ids.Count)]}",
                        ["how"] = Any("instead", "again", "out"),
                        ["reason"] = "it is right"
                    });
        }

        private async Task<string> SetUp()
        {
            var json = JsonNode.Parse(Shop.Made.Files["day.json"])!;
            json["policy"]!["approvalAbove"] = "9000.00";
            using var form = new MultipartFormDataContent
            {
                { new StringContent(await visitor.Token("/store")), "__RequestVerificationToken" },
                { new StringContent(Any("2026-11-21", "2026-11-22")), "from" }
            };
            form.Add(new ByteArrayContent(Encoding.UTF8.GetBytes(json.ToJsonString())), "file", "set-up.json");
            using var saved = await visitor.Client.PostAsync("/store?handler=Import", form);
            var waits =
                await shop.InStore(db => db.Setups.Where(s => s.Loosens != null && s.Approval == null).Select(s => s.Id).ToListAsync());
            return waits.Count == 0
                ? "a set-up"
                : await Post("/store?handler=Approve",
                    new() { ["id"] = $"{waits[random.Next(waits.Count)]}", ["second"] = Witness, ["second-pin"] = Pin }, "/store");
        }
    }
}
