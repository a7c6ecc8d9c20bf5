// The waves on the canvas.
class Waves {
  constructor(canvas) {
    this.brush = canvas.getContext('2d');
    this.width = canvas.width;
    this.height = canvas.height;
    this.time = 0;
  }

  heightAt(x) {
    return this.height / 2 + Math.sin((x + this.time) / 20) * 12;
  }

  draw() {
    this.time += 1;
    this.brush.clearRect(0, 0, this.width, this.height);
    this.brush.beginPath();
    for (let x = 0; x < this.width; x += 8) {
      this.brush.lineTo(x, this.heightAt(x));
    }
    this.brush.strokeStyle = '#80a0c0';
    this.brush.stroke();
  }
}
