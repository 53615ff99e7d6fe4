global using DuneCrate.Core.Frames;
global using DuneCrate.Core.Passes;
global using DuneCrate.Core.Planning.Edits;
global using DuneCrate.Core.Planning.Model;
