using CsCheck;
using DuneCrate.Checking.Intake;
using DuneCrate.Foundation.Storage;
using DuneCrate.Imaging;
using DuneCrate.Imaging.Listing;

namespace DuneCrate.Foundation.Tests.Storage;

/// <summary>
/// Nothing is opened, written, moved or deleted outside the roots, whatever a path says and whatever links stand on the way.
/// Sources: OWASP Application Security Verification Standard 4.0.3, V12.3.1 to V12.3.4 (path traversal, inclusion and disclosure of files)
/// and V5.1.3 (allow lists);
/// the spellings of traversal are from published lists, from memory.
/// </summary>
public sealed class StoragePathTests : IDisposable
{
    private readonly TempFolder _folder = new();
    private readonly StoragePath _renders;
    private readonly string _outside;

    public StoragePathTests()
    {
        _outside = Directory.CreateDirectory(_folder["outside"]).FullName;
        File.WriteAllText(Path.Combine(_outside, "secret.exr"), "secret");
        Directory.CreateDirectory(_folder["renders"]);
        Directory.CreateDirectory(_folder["archive"]);
        File.WriteAllText(_folder["renders/a.exr"], "aaaa");
        File.WriteAllText(_folder["archive/old.exr"], "from the archive");
        _renders = StorageRoot.Together([new("renders", _folder["renders"]), new("archive", _folder["archive"])])[0].Top;
    }

    [Theory]
    [InlineData("..")]
    [InlineData("../outside/secret.exr")]
    [InlineData("a/../../outside/secret.exr")]
    [InlineData("./a.exr")]
    [InlineData("a//b")]
    [InlineData("/etc/passwd")]
    [InlineData("//etc/passwd")]
    [InlineData("a/..")]
    [InlineData("a/")]
    [InlineData("a.exr\0.txt")]
    [InlineData("../../../../../../../../etc/passwd\0.exr")]
    public void Texts_that_lead_out_make_no_path(string text)
    {
        Assert.False(_renders.TryAt(text, out StoragePath? path, out string? problem));
        Assert.Null(path);
        Assert.NotEmpty(problem);
        Assert.Throws<StorageException>(() => _renders.At(text));
    }

    /// <summary>Spellings that mean something to a decoder and nothing to a file system are names like any other, below the root.</summary>
    [Theory]
    [InlineData("..%2f..%2foutside%2fsecret.exr")]
    [InlineData("%2e%2e/outside/secret.exr")]
    [InlineData("....//....//outside")]
    [InlineData("..\\outside\\secret.exr")]
    [InlineData("..;/outside/secret.exr")]
    [InlineData("..\u2215outside")]
    [InlineData("\uff0e\uff0e/outside/secret.exr")]
    [InlineData("~root/x")]
    [InlineData("file:///etc/passwd")]
    public void Other_spellings_stay_below(string text)
    {
        if (_renders.TryAt(text, out StoragePath? path, out _))
        {
            Assert.StartsWith(_renders.FullPath + "/", Path.GetFullPath(path.FullPath));
            Assert.False(path.IsThere);
        }
    }

    [Fact]
    public void No_text_at_all_leads_out()
    {
        Gen<string> steps = Gen.OneOfConst("..", ".", "", "a", "...", "..a", "\\", "b c").Array[0, 8].Select(s => string.Join('/', s));
        steps.Sample(text =>
        {
            if (_renders.TryAt(text, out StoragePath? path, out _))
            {
                Assert.True(Path.GetFullPath(path.FullPath + "/").StartsWith(_renders.FullPath + "/", StringComparison.Ordinal), text);
            }
        });
    }

    [Fact]
    public void Links_are_followed_as_long_as_they_end_in_a_root()
    {
        File.CreateSymbolicLink(_folder["renders/b.exr"], "a.exr");
        File.CreateSymbolicLink(_folder["renders/c.exr"], _folder["renders/b.exr"]);
        File.CreateSymbolicLink(_folder["renders/old.exr"], "../archive/old.exr");
        Directory.CreateSymbolicLink(_folder["renders/archived"], _folder["archive"]);
        Assert.Equal("aaaa", Read("c.exr"));
        Assert.Equal("from the archive", Read("old.exr"));
        Assert.Equal("from the archive", Read("archived/old.exr"));
        Assert.True(_renders.At("archived").IsFolder);
    }

    [Fact]
    public void Links_that_end_elsewhere_are_not()
    {
        File.CreateSymbolicLink(_folder["renders/b.exr"], "c.exr");
        File.CreateSymbolicLink(_folder["renders/c.exr"], _folder["outside/secret.exr"]);
        Directory.CreateSymbolicLink(_folder["renders/d"], _outside);
        Directory.CreateSymbolicLink(_folder["renders/e"], "d");
        Directory.CreateSymbolicLink(_folder["renders/up"], "..");
        Directory.CreateSymbolicLink(_folder["renders/root"], "/proc/self/root");
        File.CreateSymbolicLink(_folder["renders/nowhere.exr"], "not-there.exr");
        File.CreateSymbolicLink(_folder["renders/round.exr"], "round.exr");
        foreach (
            string path in (string[])
                ["b.exr", "c.exr", "d/secret.exr", "e/secret.exr", "up/outside/secret.exr", "root/etc/passwd", "nowhere.exr", "round.exr"]
        )
        {
            StoragePath there = _renders.At(path);
            Assert.ThrowsAny<IOException>(() => there.Open().Dispose());
            Assert.Null(there.Look());
            Assert.False(there.IsFile);
        }

        Assert.Contains("leads out of", Assert.Throws<StorageException>(() => _renders.At("c.exr").Open()).Message);
        Assert.ThrowsAny<IOException>(() => _renders.At("d").Entries());
        Assert.Contains("leads nowhere", Assert.Throws<StorageException>(() => _renders.At("nowhere.exr").Open()).Message);
    }

    [Fact]
    public void Only_regular_files_are_opened()
    {
        Tool.Run("mkfifo", _folder["renders/pipe.exr"]);
        File.CreateSymbolicLink(_folder["renders/zero.exr"], "/dev/zero");
        Directory.CreateDirectory(_folder["renders/folder.exr"]);
        Assert.Contains("not a regular file", Assert.Throws<StorageException>(() => _renders.At("pipe.exr").Open()).Message);
        Assert.Throws<StorageException>(() => _renders.At("zero.exr").Open());
        Assert.Contains("is a folder", Assert.Throws<StorageException>(() => _renders.At("folder.exr").Open()).Message);
        Assert.Throws<StorageException>(() => StorageRoot.At("/dev").Top.At("zero").Open());
    }

    [Fact]
    public void A_whole_folder_of_such_things_is_taken_in_and_told()
    {
        Tool.Run("mkfifo", _folder["renders/s.0001.exr"]);
        File.CreateSymbolicLink(_folder["renders/s.0002.exr"], "/dev/zero");
        File.CreateSymbolicLink(_folder["renders/s.0003.exr"], _folder["outside/secret.exr"]);
        Directory.CreateDirectory(_folder["renders/s.0004.exr"]);
        Directory.CreateSymbolicLink(_folder["renders/loop"], _folder["renders"]);
        Directory.CreateSymbolicLink(_folder["renders/d"], _outside);
        IntakeResult intake = new IntakeRun(new NoFactsCache(), ReadLimits.Default).Run(_renders, null, FactsDepth.Pixels, null, default);
        Assert.Equal(["a.exr", "s.0001.exr", "s.0002.exr", "s.0003.exr"], intake.Facts.Keys.Order());
        Assert.All(intake.Facts.Values, f => Assert.False(f.Readable));
        Assert.Contains("leads out", intake.Facts["s.0003.exr"].Problem);
    }

    [Fact]
    public void A_linked_frame_has_its_targets_length_and_time()
    {
        File.CreateSymbolicLink(_folder["renders/s.0001.exr"], "../archive/old.exr");
        DateTime written = new(2026, 3, 4, 5, 6, 7, DateTimeKind.Utc);
        File.SetLastWriteTimeUtc(_folder["archive/old.exr"], written);
        IntakeFile file = FolderListing.Read(_renders, default).Files.Single(f => f.Path == "s.0001.exr");
        Assert.Equal(("from the archive".Length, written), (file.Bytes, file.Modified));
    }

    [Fact]
    public void Nothing_is_written_moved_or_deleted_across_a_link()
    {
        Directory.CreateSymbolicLink(_folder["renders/d"], _outside);
        Directory.CreateSymbolicLink(_folder["renders/archived"], _folder["archive"]);
        foreach (string link in (string[])["d", "archived"])
        {
            Assert.Throws<StorageException>(() => _renders.At($"{link}/new.exr").CreateNew());
            Assert.Throws<StorageException>(() => _renders.At($"{link}/new.exr").ReplaceText("x"));
            Assert.Throws<StorageException>(() => _renders.At($"{link}/deep/er").CreateFolder());
            Assert.Throws<StorageException>(() => _renders.At("a.exr").MoveTo(_renders.At($"{link}/a.exr")));
            Assert.Throws<StorageException>(() => _renders.At($"{link}/old.exr").MoveTo(_renders.At("b.exr")));
            Assert.Throws<StorageException>(() => _renders.At($"{link}/secret.exr").Delete());
            Assert.Throws<StorageException>(() => _renders.At($"{link}/deep").DeleteFolder());
        }

        Assert.Equal(["secret.exr"], Directory.GetFileSystemEntries(_outside).Select(Path.GetFileName));
        Assert.Equal(["old.exr"], Directory.GetFileSystemEntries(_folder["archive"]).Select(Path.GetFileName));
        Assert.Equal("aaaa", Read("a.exr"));
    }

    [Fact]
    public void Deleting_takes_links_away_and_leaves_what_they_lead_to()
    {
        Directory.CreateDirectory(_folder["renders/old/deep"]);
        Directory.CreateSymbolicLink(_folder["renders/old/deep/out"], _outside);
        File.CreateSymbolicLink(_folder["renders/old/secret.exr"], _folder["outside/secret.exr"]);
        File.CreateSymbolicLink(_folder["renders/link.exr"], "a.exr");
        _renders.At("old").DeleteFolder();
        _renders.At("link.exr").Delete();
        _renders.At("not-there.exr").Delete();
        Assert.Equal(["a.exr"], Directory.GetFileSystemEntries(_folder["renders"]).Select(Path.GetFileName));
        Assert.Equal("secret", File.ReadAllText(_folder["outside/secret.exr"]));
    }

    [Fact]
    public void Writing_over_a_link_replaces_the_link()
    {
        File.CreateSymbolicLink(_folder["renders/link.exr"], _folder["outside/secret.exr"]);
        Assert.ThrowsAny<IOException>(() => _renders.At("link.exr").CreateNew());
        _renders.At("link.exr").ReplaceText("ours");
        Assert.Null(new FileInfo(_folder["renders/link.exr"]).LinkTarget);
        Assert.Equal("secret", File.ReadAllText(_folder["outside/secret.exr"]));
    }

    [Fact]
    public void Moving_writes_over_nothing()
    {
        File.WriteAllText(_folder["renders/b.exr"], "bbbb");
        Assert.ThrowsAny<IOException>(() => _renders.At("a.exr").MoveTo(_renders.At("b.exr")));
        Assert.Equal(("aaaa", "bbbb"), (Read("a.exr"), Read("b.exr")));
        _renders.At("a.exr").MoveTo(_renders.At("deep/c.exr"));
        Assert.Equal("aaaa", Read("deep/c.exr"));
    }

    [Fact]
    public void A_file_that_is_half_written_is_not_there()
    {
        Assert.Throws<InvalidOperationException>(() =>
            _renders
                .At("a.exr")
                .Replace(stream =>
                {
                    stream.Write("half"u8);
                    stream.Flush();
                    throw new InvalidOperationException();
                })
        );
        Assert.Equal("aaaa", Read("a.exr"));
        Assert.Equal(["a.exr"], Directory.GetFileSystemEntries(_folder["renders"]).Select(Path.GetFileName));
    }

    [Fact]
    public void A_folder_on_the_way_that_becomes_a_link_meanwhile_leads_nowhere()
    {
        Directory.CreateDirectory(_folder["renders/shot"]);
        File.WriteAllText(_folder["renders/shot/secret.exr"], "ours");
        StoragePath file = _renders.At("shot/secret.exr");
        using (StorageFile opened = file.Open())
        {
            Assert.Equal(4, opened.Length);
        }

        Directory.Move(_folder["renders/shot"], _folder["renders/shot.old"]);
        Directory.CreateSymbolicLink(_folder["renders/shot"], _outside);
        Assert.Throws<StorageException>(() => file.Open());
        Assert.Throws<StorageException>(() => file.OpenItself());
    }

    [Fact]
    public void Listing_tells_links_and_does_not_walk_them()
    {
        Directory.CreateDirectory(_folder["renders/shot"]);
        Directory.CreateSymbolicLink(_folder["renders/shot/out"], _outside);
        File.WriteAllText(_folder["renders/shot/x"], "");
        Assert.Equal(
            [("a.exr", FileKind.Regular), ("shot/out", FileKind.Link), ("shot/x", FileKind.Regular)],
            _renders.Everything().Select(e => (e.Path, e.Stamp.Kind))
        );
    }

    [Fact]
    public void A_file_that_is_written_to_while_it_is_open_is_known_to_have_changed()
    {
        using StorageFile file = _renders.At("a.exr").Open();
        Assert.False(file.HasChanged);
        File.AppendAllText(_folder["renders/a.exr"], "more");
        Assert.True(file.HasChanged);
    }

    public void Dispose() => _folder.Dispose();

    private string Read(string path)
    {
        using StorageFile file = _renders.At(path).Open();
        using var reader = new StreamReader(file.ToStream());
        return reader.ReadToEnd();
    }
}
