console.log("seed");
