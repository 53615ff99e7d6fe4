using System.Data.Common;
using DuneCrate.Checking.Intake;
using DuneCrate.Foundation.Threading;
using DuneCrate.Imaging.Listing;
using DuneCrate.Store.Rows;

namespace DuneCrate.Store;

/// <content>Rows that are read while the folder is listed, on the other core.</content>
public sealed partial class FactsStore
{
    private const int MostFolders = 1000,
        MostRows = 200_000;

    /// <summary>
    /// Header rows of a folder and those below it. What is beyond a bound on memory, or could not be read, is looked up when it is asked
    /// for.
    /// </summary>
    private sealed class RowsBesideListing(FactsStore store, string folder) : IKnownFacts
    {
        private readonly Task<Dictionary<int, Dictionary<string, FactsRow>>> _rows = Task.Run(() => store.RowsBelow(folder));

        /// <inheritdoc/>
        public IReadOnlyDictionary<string, FileFacts> FindAll(
            IReadOnlyCollection<IntakeFile> files,
            FactsRequest request,
            Func<IntakeFile, FactsRequest> each
        ) => store.FindAll(files, request, each, request.Depth == FactsDepth.Header ? WorkThread.WaitFor(_rows) : NoRows);
    }

    private Dictionary<int, Dictionary<string, FactsRow>> RowsBelow(string folder)
    {
        var read = new Dictionary<int, Dictionary<string, FactsRow>>();
        // Everything below lies between the path with a slash and the path with the character after it.
        string top = folder.TrimEnd('/'),
            from = top + '/',
            to = top + (char)('/' + 1);
        try
        {
            using DuneCrateContext context = contexts.CreateDbContext();
            int[] folders =
            [
                .. context
                    .FactFolders.Where(f => f.Path == folder || (string.Compare(f.Path, from) >= 0 && string.Compare(f.Path, to) < 0))
                    .OrderBy(f => f.Path)
                    .Select(f => f.Id)
                    .Take(MostFolders),
            ];
            int rows = 0;
            foreach (int id in folders.TakeWhile(_ => rows < MostRows))
            {
                read[id] = Rows(context, id, null, withPixels: false);
                rows += read[id].Count;
            }
        }
        catch (DbException)
        {
            // The look-up that is asked for says so, if it is still the matter.
        }

        return read;
    }
}
