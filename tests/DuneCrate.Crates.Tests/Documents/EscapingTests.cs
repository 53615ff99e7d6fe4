using System.Text;
using System.Text.Json;
using System.Text.RegularExpressions;
using CsCheck;
using DuneCrate.Checking.Intake;
using DuneCrate.Checking.Reports;
using DuneCrate.Foundation.Documents;

namespace DuneCrate.Crates.Tests.Documents;

/// <summary>
/// Whatever people and files say is text in every document: it never becomes markup, script, a formula or a command of the terminal.
/// Source: OWASP Application Security Verification Standard 4.0.3, V5.3.3 (escaping for the context), V5.3.6 (JSON), V5.3.10 (spreadsheet
/// formulas, also "CSV injection" of the OWASP community pages, from memory).
/// </summary>
public class EscapingTests
{
    private const string Nasty = "</script><script>alert(1)</script><img src=x onerror=\"alert(2)\"> & ' \" `";

    [Fact]
    public void A_page_takes_values_as_text()
    {
        string page = new HtmlDocument().Add($"<td title=\"{Nasty}\">{Nasty}</td>").ToString();
        Assert.DoesNotContain("<script", page);
        Assert.DoesNotContain("<img", page);
        Assert.Equal(2 * 2, Regex.Matches(page, "&lt;/script&gt;").Count);
        Assert.Equal(2, page.Count(c => c == '"')); // Those of the attribute itself.
    }

    [Fact]
    public void Every_text_of_a_manifest_is_escaped_in_the_slip()
    {
        using var shot = new ShotFixture();
        using var to = new TempFolder();
        (IntakeResult intake, CheckReport report) = Disk.Check(shot.Folder, shot.Plan, FactsDepth.Pixels);
        CrateManifest manifest = CrateDescription.Manifest(
            Disk.Contents(shot.Plan, intake, CrateLayouts.ByLayer) with
            {
                Notes = DuneCrate.StandIns.Demo.DemoNotes.All,
            },
            "KP010_crate_v001",
            1,
            DateTime.UtcNow,
            report.Findings,
            Guid.NewGuid(),
            ""
        );

        // Anybody can write a manifest: each of its texts is changed in turn, and the slip is made from it.
        int taken = 0;
        foreach (Match text in Regex.Matches(manifest.Write(), "\"(?<key>[a-zA-Z]+)\": \"(?<text>[^\"]+)\""))
        {
            if (Changed(manifest, text.Groups["key"].Value, text.Groups["text"].Value) is { } changed)
            {
                string slip = PackingSlip.Write(changed);
                Assert.DoesNotContain("<script", slip);
                Assert.DoesNotContain("<img", slip);
                taken += slip.Contains("&lt;/script&gt;", StringComparison.Ordinal) ? 1 : 0;
            }
        }

        Assert.InRange(taken, 30, int.MaxValue);
    }

    private static CrateManifest? Changed(CrateManifest manifest, string key, string text)
    {
        string changed = manifest
            .Write()
            .Replace(
                $"\"{key}\": {JsonSerializer.Serialize(text, AnyJson.Options)}",
                $"\"{key}\": {JsonSerializer.Serialize(Nasty)}",
                StringComparison.Ordinal
            );
        try
        {
            return CrateManifest.Read(changed);
        }
        catch (FormatException)
        {
            return null; // A word that can only be one of a few.
        }
    }

    /// <summary>A name of a file may hold anything; on a page it can be read, and does nothing.</summary>
    [Fact]
    public void Control_characters_are_shown_in_pages_and_their_JSON() =>
        Gen.Int[0, 0x10ffff]
            .Where(System.Text.Rune.IsValid)
            .Array[1, 12]
            .Sample(scalars =>
            {
                string text = string.Concat(scalars.Select(s => new System.Text.Rune(s).ToString())),
                    shown = VisibleText.Clean(text, keepsLines: true),
                    markup = VisibleEncoding.Html.Encode(text);
                Assert.Equal(shown, System.Net.WebUtility.HtmlDecode(markup));
                Assert.Equal(shown, JsonSerializer.Deserialize<string>(JsonSerializer.Serialize(text, AnyJson.InPage)));
                Assert.DoesNotContain(markup, c => c is '<' or '>' || VisibleText.IsHarmful(c, keepsLines: false));
            });

    [Theory]
    [InlineData("a\u001bb")]
    [InlineData("a\u202eb\u0085")]
    public void The_usual_ones_are_among_them(string text)
    {
        Assert.Contains("\\u", VisibleEncoding.Html.Encode(text));
        Assert.Contains("\\u", new HtmlDocument().Add($"<b>{text}</b>").ToString());
    }

    [Fact]
    public void JSON_in_a_page_cannot_end_its_script()
    {
        string json = JsonSerializer.Serialize(new { text = Nasty + "<!--\u2028" }, AnyJson.InPage);
        Assert.DoesNotContain("<", json);
        Assert.Contains("\\u003C", json, StringComparison.OrdinalIgnoreCase);
        Assert.Equal(Nasty + "<!--\\u2028", JsonDocument.Parse(json).RootElement.GetProperty("text").GetString());
    }

    [Theory]
    [InlineData("=1+2")]
    [InlineData("+49 30 1234")]
    [InlineData("-cmd|' /C calc'!A0")]
    [InlineData("@SUM(1)")]
    [InlineData("\t=1+2")]
    [InlineData("\r=1+2")]
    [InlineData("\n=1+2")]
    public void A_cell_is_never_a_formula(string text)
    {
        string line = CsvText
            .Write(
                ["a"],
                [
                    [text],
                ]
            )
            .Split('\n', 2)[1][..^1];
        string cell = line.StartsWith('"') ? line[1..^1].Replace("\"\"", "\"", StringComparison.Ordinal) : line;
        Assert.StartsWith("'", cell);
        Assert.Equal(text, CsvText.Plain(cell));
    }

    [Theory]
    [InlineData("1001-1048")]
    [InlineData("beauty")]
    [InlineData("a=b")]
    [InlineData("")]
    public void Other_cells_are_as_they_are(string text) =>
        Assert.Equal(
            text,
            CsvText
                .Write(
                    ["a"],
                    [
                        [text],
                    ]
                )
                .Split('\n', 2)[1]
                .TrimEnd('\n', '\r')
        );

    /// <summary>What would move a cursor or turn the reading direction is shown and not written.</summary>
    [Theory]
    [InlineData("a\u001b[31mb", "a\\u001b[31mb")]
    [InlineData("a\u0000b", "a\\u0000b")]
    [InlineData("exr.\u202egnp", "exr.\\u202egnp")]
    public void No_control_character_reaches_a_table(string cell, string shown) =>
        Assert.Equal($"a\n{shown}\n", CsvText.Write(["a"], [new[] { cell }]));

    [Fact]
    public void A_table_is_read_back_as_it_was() =>
        Gen.String[0, 12]
            .Array[1, 4]
            .Sample(cells =>
            {
                string table = CsvText.Write(cells.Select((_, i) => $"c{i}"), [cells]);
                Assert.Equal(
                    cells.Select(c => VisibleText.Clean(c, keepsLines: true)),
                    Rfc4180(table[(table.IndexOf('\n', StringComparison.Ordinal) + 1)..]).Select(CsvText.Plain)
                );
            });

    [Fact]
    public void The_terminal_is_told_nothing()
    {
        string shown = VisibleText.Clean("KP\u001b[2J\u001b]0;owned\u0007\u009b31m\u202egnp.exe\r\n\u0000x");
        Assert.DoesNotContain(shown, c => char.IsControl(c) || c is '\u202e' or '\u2066');
        Assert.Contains("\\u001b", shown);
        Assert.Equal("Übung 海.exr", VisibleText.Clean("Übung 海.exr"));
        Assert.Equal("a\nb", VisibleText.Clean("a\nb", keepsLines: true));
    }

    [Fact]
    public void Times_are_UTC_and_say_so()
    {
        foreach (
            DateTime time in (DateTime[])[new(2026, 5, 4, 12, 0, 0, DateTimeKind.Utc), new(2026, 5, 4, 12, 0, 0, DateTimeKind.Unspecified)]
        )
        {
            Assert.Equal("\"2026-05-04T12:00:00Z\"", JsonSerializer.Serialize(time, AnyJson.Options));
        }

        Assert.EndsWith("Z\"", JsonSerializer.Serialize(new DateTime(2026, 5, 4, 12, 0, 0, DateTimeKind.Local), AnyJson.Options));
        DateTime read = JsonSerializer.Deserialize<DateTime>("\"2026-05-04T14:00:00+02:00\"", AnyJson.Options);
        Assert.Equal((new DateTime(2026, 5, 4, 12, 0, 0), DateTimeKind.Utc), (read, read.Kind));
    }

    /// <summary>The fields of one line by RFC 4180.</summary>
    private static List<string> Rfc4180(string text)
    {
        (List<string> fields, StringBuilder field, bool quoted) = ([], new StringBuilder(), false);
        for (int i = 0; i < text.Length; i++)
        {
            char c = text[i];
            if (quoted)
            {
                if (c == '"' && i + 1 < text.Length && text[i + 1] == '"')
                {
                    field.Append(c);
                    i++;
                }
                else if (c == '"')
                {
                    quoted = false;
                }
                else
                {
                    field.Append(c);
                }
            }
            else if (c == '"')
            {
                quoted = true;
            }
            else if (c == ',')
            {
                fields.Add(field.ToString());
                field.Clear();
            }
            else if (c is '\n')
            {
                break;
            }
            else
            {
                field.Append(c);
            }
        }

        fields.Add(field.ToString());
        return fields;
    }
}
