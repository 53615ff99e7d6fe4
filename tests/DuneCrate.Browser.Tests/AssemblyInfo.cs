// Each class has a browser of its own; one at a time is kinder to small machines.
[assembly: CollectionBehavior(DisableTestParallelization = true)]
