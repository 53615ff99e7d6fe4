global using DuneCrate.Core.Frames;
global using DuneCrate.Core.Passes;
global using DuneCrate.Core.Planning;
global using DuneCrate.Core.Planning.Edits;
