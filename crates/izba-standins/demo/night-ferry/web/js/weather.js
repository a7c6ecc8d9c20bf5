// The weather at the landing.
const weather = { wind: 4, fog: true };
console.log("weather is known");
