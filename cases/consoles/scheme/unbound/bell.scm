(define (ring times)
  (if (> times 0)
      (begin
        (display "ding\n")
        (rign (- times 1)))))

(ring 3)
