const berths = { Marigold: { depth: 3 } };

exports.berth = (boat) => berths[boat];
